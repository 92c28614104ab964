'use client';
import { lazy } from 'react';
import type { CodeProps } from './code-props';
import { OnceThere } from './Later';

const CodeEditor = lazy(() => import('./CodeEditor').then((one) => ({ default: one.CodeEditor })));

/** Text to read and copy: at once as it is, and as an editor shows it once that is there. */
export function CodeView(props: CodeProps) {
  const plain = (
    <pre className="code-plain" style={{ height: props.height }}>
      {props.text}
    </pre>
  );
  return (
    <div className="sheet" role="region" aria-label={props.label}>
      <OnceThere until={plain}>
        <CodeEditor {...props} />
      </OnceThere>
    </div>
  );
}
