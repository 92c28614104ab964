import type { OwnStep } from '../../core/checks/own-check.ts';
import { stepText, stepWords, type FromRecorder } from './recording.ts';
import { isShown } from '../controls.ts';
import { called, FIELDS, isSeen, nameOf, PRESSED } from '../own-checks.ts';

/** What is typed into, so that pressing it says nothing yet. */
const TYPED =
  'textarea, select, [contenteditable=""], [contenteditable="true"], input:not([type="button"], [type="submit"], [type="reset"], [type="checkbox"], [type="radio"], [type="image"])';
/** By these an element without words is known, where no other has the same. */
const TELLING = ['aria-label', 'name', 'href', 'title', 'data-target', 'type', 'role'];

/**
 * Writes down what is pressed and typed on a page that is looked at by hand, for the document around it.
 *
 * @param shell that document's origin: nobody else is told
 */
export function record(shell: string): void {
  const around = window.parent;
  const tell = (said: FromRecorder) => around.postMessage({ wistrel: said }, shell);
  const write = (step: OwnStep) => tell({ kind: 'step', text: stepText(step) });
  let picks = false;
  let labelled: Element | null = null;
  addEventListener('message', ({ origin, data }) => {
    if (origin === shell && (data as { wistrel?: unknown } | null)?.wistrel === 'pick') picks = true;
  });
  addEventListener(
    'click',
    (event) => {
      const [target] = event.composedPath();
      if (!event.isTrusted || !(target instanceof Element)) return;
      if (picks) {
        picks = false;
        event.preventDefault();
        event.stopImmediatePropagation();
        return see(target, write, tell);
      }
      // A click on a label is done again on its field.
      if (target === labelled) return void (labelled = null);
      labelled = target.closest('label')?.control ?? null;
      press(target, write, tell);
    },
    { capture: true },
  );
  addEventListener(
    'change',
    ({ target }) => {
      if (target instanceof Element && target.matches(TYPED)) typed(target, write, tell);
    },
    { capture: true },
  );
  tell({ kind: 'ready' });
}

type Write = (step: OwnStep) => void;
type Tell = (said: FromRecorder) => void;

function press(target: Element, write: Write, tell: Tell): void {
  if (target.closest(TYPED)) return;
  const pressed = PRESSED.slice(0, 2).flatMap((sort) => target.closest(sort) ?? [])[0] ?? target;
  const words = stepWords(nameOf(pressed));
  const found = words && PRESSED.flatMap((sort) => called(words, sort)).find(isShown);
  const what = found === pressed ? words : selectorOf(pressed);
  if (what) write({ do: 'press', what });
  else tell({ kind: 'told', text: 'What was pressed has neither words nor a selector of its own.' });
}

function typed(field: Element, write: Write, tell: Tell): void {
  if (field.matches('[type="password"], [autocomplete^="cc-"]'))
    return tell({ kind: 'told', text: 'What is typed into this field is not written down.' });
  const words = stepWords(nameOf(field));
  const found = words && called(words, FIELDS).find(isShown);
  const into = found === field ? words : selectorOf(field);
  const text = stepWords(valueOf(field));
  if (into && text) write({ do: 'type', text, into });
  else if (text) tell({ kind: 'told', text: 'The field has neither words nor a selector of its own.' });
}

function see(target: Element, write: Write, tell: Tell): void {
  const words = stepWords(target.textContent || (target.getAttribute('alt') ?? ''));
  const what = words && isSeen(words, false) ? words : selectorOf(target);
  if (what) write({ do: 'see', what });
  else tell({ kind: 'told', text: 'It has neither words nor a selector of its own.' });
}

function valueOf(field: Element): string {
  if (field instanceof HTMLSelectElement) return field.selectedOptions[0]?.textContent ?? '';
  return 'value' in field ? String(field.value) : (field.textContent ?? '');
}

/** A selector that only this element has, as a check tells it from words: it begins with #, . or [. */
function selectorOf(element: Element): string | null {
  const escaped = [...element.classList].map((name) => `.${CSS.escape(name)}`);
  const selectors = [
    ...(element.id ? [`#${CSS.escape(element.id)}`] : []),
    ...escaped,
    escaped.join(''),
    ...TELLING.flatMap((name) => {
      const value = element.getAttribute(name);
      return value && !/[,“”"\\\n]/.test(value) ? [`[${name}="${value}"]`] : [];
    }),
  ];
  return selectors.find((one) => one !== '' && document.querySelectorAll(one).length === 1) ?? null;
}
