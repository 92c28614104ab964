'use client';
import { css } from '@codemirror/lang-css';
import { html } from '@codemirror/lang-html';
import { javascript } from '@codemirror/lang-javascript';
import CodeMirror, { EditorView } from '@uiw/react-codemirror';

const LANGUAGES = { css: css(), html: html(), javascript: javascript(), diff: null };

/** Text to read and copy: highlighted, searchable (Ctrl F), not editable. */
export function CodeView({
  text,
  language,
  height,
  label,
}: {
  text: string;
  language: keyof typeof LANGUAGES;
  height: string;
  label: string;
}) {
  const extension = LANGUAGES[language];
  return (
    <div className="sheet" role="region" aria-label={label}>
      <CodeMirror
        value={text}
        height={height}
        readOnly
        theme="none"
        basicSetup={{ foldGutter: false, highlightActiveLine: false, highlightActiveLineGutter: false }}
        extensions={[EditorView.lineWrapping, INK, ...(extension ? [extension] : [])]}
      />
    </div>
  );
}

const INK = EditorView.theme({
  '&': { backgroundColor: 'var(--sheet)', color: 'var(--ink)' },
  '.cm-gutters': { backgroundColor: 'var(--paper)', color: 'var(--muted)', border: 'none' },
  '&.cm-focused': { outline: '2px solid var(--ink)' },
});
