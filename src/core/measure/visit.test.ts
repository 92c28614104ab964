import { expect, it } from 'vitest';
import { readSteps, writeSteps } from './visit.ts';

it('reads steps a line at a time, and writes them the same', () => {
  const text = 'press #bar .accept\nuntil main > h1\npause 250';
  const steps = readSteps(`\n ${text}\n`);
  expect(steps).toEqual([
    { do: 'press', selector: '#bar .accept' },
    { do: 'until', selector: 'main > h1' },
    { do: 'pause', ms: 250 },
  ]);
  expect(writeSteps(steps)).toBe(text);
});

it('names the line that it cannot read', () => {
  expect(() => readSteps('press .a\nclick .b')).toThrow('“click .b” is no step');
  expect(() => readSteps('pause 99999')).toThrow('30,000 at most');
});
