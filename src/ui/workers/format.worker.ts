import { formatCode, type FormattedLanguage } from './format-code';

/** What the worker is asked, and what it answers. */
export interface FormatOrder {
  text: string;
  language: FormattedLanguage;
}
export type FormatAnswer = { state: 'formatted'; text: string } | { state: 'refused'; why: string };

addEventListener('message', ({ data }: MessageEvent<FormatOrder>) => {
  formatCode(data.text, data.language).then(
    (text) => postMessage({ state: 'formatted', text } satisfies FormatAnswer),
    (error: unknown) =>
      postMessage({
        state: 'refused',
        why: error instanceof Error ? error.message : String(error),
      } satisfies FormatAnswer),
  );
});
