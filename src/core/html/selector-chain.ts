import type { ElementPlace } from './document.ts';

/** The parts of a selector from the outermost element to the one that is meant; pseudo-classes are taken to hold. */
export function chainOf(selector: string): string[] {
  const steps = selector
    .trim()
    .replace(/::?[\w-]+(\([^)]*\))?/g, '')
    .split(/[\s>]+/)
    .filter(Boolean);
  // What stands beside another is not looked for: only the last of them is.
  return /[+~]/.test(selector) ? steps.slice(-1) : steps;
}

/** Whether parts of a selector are found, in their order, among what is around an element. */
export function liesIn(chain: readonly string[], around: readonly ElementPlace[]): boolean {
  let at = 0;
  for (const place of around) if (at < chain.length && place && isLike(chain[at]!, place)) at++;
  return at === chain.length;
}

/** Whether an element may be what one part of a selector means: what attributes hold is taken to be what is asked for. */
export function isLike(part: string, { name, attributes }: ElementPlace): boolean {
  if (!/^([a-z#.[*])/i.test(part)) return false;
  const tag = /^[a-z][\w-]*/i.exec(part)?.[0];
  if (tag && tag.toLowerCase() !== /^[^#.]*/.exec(name)![0]) return false;
  for (const [named] of part.replace(/\[[^\]]*\]/g, '').matchAll(/[#.][\w-]+/g)) {
    const at = name.indexOf(named);
    if (at < 0 || !/^([#.]|$)/.test(name.slice(at + named.length))) return false;
  }
  for (const [, attribute] of part.matchAll(/\[\s*([\w-]+)/g))
    if (!attributes.includes(attribute!.toLowerCase())) return false;
  return true;
}
