import { expect, it } from 'vitest';
import { readSteps, writeSteps } from './visit.ts';

it('reads steps a line at a time, and writes them the same', () => {
  const text = 'click #bar .accept\nwait for main > h1\nwait 250';
  const steps = readSteps(`\n ${text}\n`);
  expect(steps).toEqual([
    { do: 'click', selector: '#bar .accept' },
    { do: 'wait-for', selector: 'main > h1' },
    { do: 'wait', ms: 250 },
  ]);
  expect(writeSteps(steps)).toBe(text);
});

it('names the line that it cannot read', () => {
  expect(() => readSteps('click .a\npress .b')).toThrow('“press .b” is no step');
  expect(() => readSteps('wait 99999')).toThrow('30,000 at most');
});
