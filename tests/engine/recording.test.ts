import { expect, it } from 'vitest';
import { readOwnChecks, type OwnStep } from '../../src/core/checks/own-check.ts';
import { stepText, stepWords } from '../../src/in-page/own-world/recording.ts';

it('writes steps down so that reading them gives the same again', () => {
  const steps: OwnStep[] = [
    { do: 'press', what: 'Menu' },
    { do: 'type', text: 'Orrask, north', into: 'From' },
    { do: 'type', text: 'ab', into: '#to' },
    { do: 'see', what: 'Tides, today' },
    { do: 'not see', what: 'No such harbour' },
  ];
  const line = steps.map(stepText).join(', ');
  expect(line).toBe(
    'press Menu, type “Orrask, north” into From, type ab into #to, see “Tides, today”, do not see No such harbour',
  );
  expect(readOwnChecks(line)[0]!.steps).toEqual(steps);
});

it('keeps words on one line, whole, and without what quotes them', () => {
  expect(stepWords('  The “Tide”\n turns ')).toBe('The Tide turns');
  const long = 'Three harbours, six crossings a day, and the dog travels free in every weather';
  expect(stepWords(long)).toBe('Three harbours, six crossings a day, and the dog travels');
  expect(stepWords('x'.repeat(80))).toHaveLength(60);
});
