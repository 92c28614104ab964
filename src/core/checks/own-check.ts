/** One step of a check: something done, or something that is to be seen then, by the words on it or by a selector. */
export type OwnStep =
  { do: 'press' | 'see' | 'not see'; what: string } | { do: 'type'; text: string; into: string };

/** What a developer knows that the page does: steps with what is to be seen after them. */
export interface OwnCheck {
  /** As it was written: "press Menu, see Booking". */
  text: string;
  steps: OwnStep[];
}

/** More of them would take longer than anybody waits for: each is a load of its own on two devices, in both arms. */
export const MOST_CHECKS = 12;
const MOST_STEPS = 12;

/**
 * Reads checks as they are written, one a line, their steps parted by commas: "press Menu, see Booking". What has a
 * comma in it stands in quotes.
 *
 * @throws Error that names the line that cannot be read, and says how it can
 */
export function readOwnChecks(text: string): OwnCheck[] {
  const lines = [
    ...new Set(
      text
        .split('\n')
        .map((line) => line.trim().replace(/\s+/g, ' '))
        .filter(Boolean),
    ),
  ];
  if (lines.length > MOST_CHECKS)
    throw new Error(`${lines.length} checks are too many: ${MOST_CHECKS} can be kept with a page.`);
  return lines.map((line) => {
    const steps = partedByCommas(line).map((part) => readStep(part, line));
    if (steps.length > MOST_STEPS) throw new Error(`“${line}” has too many steps: ${MOST_STEPS} at most.`);
    if (!steps.some((step) => step.do === 'see' || step.do === 'not see'))
      throw new Error(
        `“${line}” does not say what is to be seen. End it with “see WORDS” or “do not see WORDS”.`,
      );
    return { text: line, steps };
  });
}

function readStep(part: string, line: string): OwnStep {
  const typed = /^type (.+?) into (.+)$/i.exec(part);
  if (typed) return { do: 'type', text: unquoted(typed[1]!), into: unquoted(typed[2]!) };
  const named = /^(press|see|do not see) (.+)$/i.exec(part);
  if (!named)
    throw new Error(
      `“${part}” in “${line}” is no step. Write “press WORDS”, “type TEXT into FIELD”, “see WORDS” or “do not see WORDS”; a selector can stand for the words, as in “press .menu”.`,
    );
  const what = unquoted(named[2]!);
  const verb = named[1]!.toLowerCase();
  return { do: verb === 'press' ? 'press' : verb === 'see' ? 'see' : 'not see', what };
}

const QUOTED = /^(?:“([^”]*)”|"([^"]*)")$/;

function unquoted(text: string): string {
  const inside = QUOTED.exec(text);
  return inside ? (inside[1] ?? inside[2]!) : text;
}

function partedByCommas(line: string): string[] {
  return (line.match(/(?:“[^”]*”|"[^"]*"|[^,])+/g) ?? []).map((part) => part.trim()).filter(Boolean);
}

/** Whether words mean a selector: what is seen on a page seldom begins so. */
export function isSelector(what: string): boolean {
  return /^[.#[]/.test(what);
}

/** What a step that could not be done, or did not find what is to be seen, comes to: "“Booking” is not seen". */
export function failureWords(step: OwnStep): string {
  switch (step.do) {
    case 'press':
      return `there is no “${step.what}” to press`;
    case 'type':
      return `there is no field “${step.into}”`;
    case 'see':
      return `“${step.what}” is not seen`;
    case 'not see':
      return `“${step.what}” is seen`;
  }
}
