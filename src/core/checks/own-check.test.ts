import { describe, expect, it } from 'vitest';
import { failureWords, isSelector, MOST_CHECKS, readOwnChecks } from './own-check.ts';

describe('checks of one’s own', () => {
  it('are read one a line, their steps parted by commas', () => {
    expect(
      readOwnChecks('press Menu,  see Booking\n\n Type Orrask into From, do not see No harbour\n'),
    ).toEqual([
      {
        text: 'press Menu, see Booking',
        steps: [
          { do: 'press', what: 'Menu' },
          { do: 'see', what: 'Booking' },
        ],
      },
      {
        text: 'Type Orrask into From, do not see No harbour',
        steps: [
          { do: 'type', text: 'Orrask', into: 'From' },
          { do: 'not see', what: 'No harbour' },
        ],
      },
    ]);
  });

  it('take words with a comma in quotes, straight or curved, and count the same line once', () => {
    const [check, ...others] = readOwnChecks(
      'press "Yes, sail", see “Fair, and calm”\npress "Yes, sail", see “Fair, and calm”',
    );
    expect(check!.steps).toEqual([
      { do: 'press', what: 'Yes, sail' },
      { do: 'see', what: 'Fair, and calm' },
    ]);
    expect(others).toEqual([]);
  });

  it.each([
    ['tap Menu, see Booking', /“tap Menu” in “tap Menu, see Booking” is no step\. Write “press WORDS”/],
    ['press Menu', /“press Menu” does not say what is to be seen\. End it with “see WORDS”/],
    ['see', /“see” in “see” is no step/],
    [`press ${'a, see b, press '.repeat(8)}a`, /too many steps/],
    [
      Array.from({ length: MOST_CHECKS + 1 }, (_, at) => `see ${at}`).join('\n'),
      /13 checks are too many: 12/,
    ],
  ])('refuse %j', (text, why) => {
    expect(() => readOwnChecks(text)).toThrow(why);
  });

  it('know a selector from words', () => {
    expect(['.menu', '#menu', '[role=tab]', 'Menu', '3 ferries'].map(isSelector)).toEqual([
      true,
      true,
      true,
      false,
      false,
    ]);
  });

  it('say what was not there', () => {
    const [check] = readOwnChecks('press Menu, type a into From, see Booking, do not see Error');
    expect(check!.steps.map(failureWords)).toEqual([
      'there is no “Menu” to press',
      'there is no field “From”',
      '“Booking” is not seen',
      '“Error” is seen',
    ]);
  });
});
