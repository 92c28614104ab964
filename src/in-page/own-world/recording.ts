import type { OwnStep } from '../../core/checks/own-check.ts';

/** More of what is typed or seen is not written down. */
const LONGEST = 60;

/** What the recorder of a page tells the document around it. */
export type FromRecorder =
  | { kind: 'ready' }
  | { kind: 'step'; text: string }
  /** Why something that was done is not written down. */
  | { kind: 'told'; text: string };

/**
 * A step as it is written in a check, so that reading it gives the step again.
 *
 * @example
 * stepText({ do: 'see', what: 'Tides, today' }); // see “Tides, today”
 */
export function stepText(step: OwnStep): string {
  switch (step.do) {
    case 'press':
      return `press ${quoted(step.what)}`;
    case 'type':
      return `type ${quoted(step.text)} into ${quoted(step.into)}`;
    case 'see':
      return `see ${quoted(step.what)}`;
    case 'not see':
      return `do not see ${quoted(step.what)}`;
  }
}

/** Words as a step holds them: on one line, no longer than can be read, and whole. */
export function stepWords(text: string): string {
  const line = text.replaceAll(/[“”"]/g, '').replace(/\s+/g, ' ').trim();
  if (line.length <= LONGEST) return line;
  const cut = line.lastIndexOf(' ', LONGEST);
  return line.slice(0, cut > 0 ? cut : LONGEST);
}

/** What parts steps, or a text from its field, stands in quotes. */
function quoted(words: string): string {
  return /,| into /i.test(words) ? `“${words}”` : words;
}
