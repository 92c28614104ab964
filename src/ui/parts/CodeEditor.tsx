'use client';
import { css } from '@codemirror/lang-css';
import { html } from '@codemirror/lang-html';
import { javascript } from '@codemirror/lang-javascript';
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language';
import { tags } from '@lezer/highlight';
import CodeMirror, { EditorView } from '@uiw/react-codemirror';

import type { CodeProps } from './code-props';

const LANGUAGES: Record<CodeProps['language'], ReturnType<typeof css> | null> = {
  css: css(),
  html: html(),
  javascript: javascript(),
  diff: null,
};

/** Text as an editor shows it: highlighted, searchable (Ctrl F), not editable. */
export function CodeEditor({ text, language, height, label }: CodeProps) {
  const extension = LANGUAGES[language];
  return (
    <CodeMirror
      value={text}
      height={height}
      readOnly
      theme="none"
      basicSetup={{
        foldGutter: false,
        highlightActiveLine: false,
        highlightActiveLineGutter: false,
        syntaxHighlighting: false,
      }}
      extensions={[
        EditorView.lineWrapping,
        EditorView.contentAttributes.of({ 'aria-label': label, tabindex: '0' }),
        INK,
        WEIGHTS,
        ...(extension ? [extension] : []),
      ]}
    />
  );
}

/** Told apart by weight, slant and lightness: colours mean as is and treated, and nothing else. */
const WEIGHTS = syntaxHighlighting(
  HighlightStyle.define([
    { tag: [tags.keyword, tags.tagName, tags.definitionKeyword], fontWeight: '650' },
    { tag: [tags.propertyName, tags.attributeName, tags.className], fontWeight: '550' },
    { tag: [tags.string, tags.number, tags.color, tags.unit], color: 'var(--muted)' },
    { tag: tags.comment, color: 'var(--muted)', fontStyle: 'italic' },
  ]),
);

const INK = EditorView.theme({
  '&': { backgroundColor: 'var(--sheet)', color: 'var(--ink)' },
  '.cm-gutters': { backgroundColor: 'var(--paper)', color: 'var(--muted)', border: 'none' },
  '&.cm-focused': { outline: '2px solid var(--ink)' },
});
