import type { Draw } from './chance.ts';

/** What breaks readers of any text: ends that never come, characters that are none, much of the same. */
const ANYWHERE = [
  '\0',
  '\ufeff',
  '\ud800',
  '\udc00',
  '\u2028',
  '\r',
  '%',
  '%zz',
  '%ff',
  '\\',
  '"',
  "'",
  '`',
  '<',
  '>',
];

/** Takes parts out of a text, doubles them, cuts it off, or puts something in, some times over. */
export function mutatedText(text: string, bits: readonly string[], draw: Draw): string {
  for (let count = 1 + draw.below(5); count > 0; count--) {
    const at = draw.below(text.length + 1);
    const length = draw.below(40);
    const kind = draw.share();
    if (kind < 0.2) text = text.slice(0, at) + text.slice(at + length);
    else if (kind < 0.35) text = text.slice(0, at) + text.slice(at, at + length) + text.slice(at);
    else if (kind < 0.85)
      text = text.slice(0, at) + draw.of(draw.share() < 0.3 ? ANYWHERE : bits) + text.slice(at);
    else if (kind < 0.95) text = text.slice(0, at);
    else text = text.slice(0, at) + draw.of(bits).repeat(1 + draw.below(6_000)) + text.slice(at);
  }
  return text;
}

/** Values that stand where others are expected. */
const STRANGE: readonly unknown[] = [
  null,
  true,
  0,
  -1,
  1e308,
  -1e-320,
  2 ** 53,
  '',
  '\0',
  '\ud800',
  'x'.repeat(100_000),
  '__proto__',
  'https://[',
  'http://x:99999999/',
  'data:,',
  'javascript:alert(1)',
  [],
  {},
  [[[[[[]]]]]],
  { length: -1 },
  { toString: null },
];

/** Others may be put into it in turn. */
const strange = (draw: Draw) => structuredClone(draw.of(STRANGE));

/** Changes some values of a JSON value: others in their place, members gone, doubled or under another name. */
export function mutatedJson(value: unknown, draw: Draw): unknown {
  const copy = structuredClone(value);
  for (let count = 1 + draw.below(3); count > 0; count--) {
    const holder = somewhere(copy, draw);
    if (!holder) return strange(draw);
    const key = draw.of(Object.keys(holder));
    const held = holder as Record<string, unknown>;
    const kind = draw.share();
    if (kind < 0.6) held[key] = strange(draw);
    else if (kind < 0.8) Reflect.deleteProperty(held, key);
    else if (kind < 0.9) held[`${key}x`] = held[key];
    else held[key] = [held[key], held[key]];
  }
  return copy;
}

/** An object or list inside a value that holds something; null where there is none. */
function somewhere(value: unknown, draw: Draw): object | null {
  let found: object | null = null;
  for (
    let next = value;
    isHolder(next);
    next = (next as Record<string, unknown>)[draw.of(Object.keys(next))]
  ) {
    found = next;
    if (draw.share() < 0.25) break;
  }
  return found;
}

const isHolder = (value: unknown): value is object =>
  typeof value === 'object' && value !== null && Object.keys(value).length > 0;
