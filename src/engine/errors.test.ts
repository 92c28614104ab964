import { expect, it } from 'vitest';
import { inPlainWords, Trouble, wentAway } from './errors.ts';

it.each([
  'Protocol error (Page.navigate): Target closed',
  'Navigating frame was detached',
  'Attempted to use detached Frame',
  'Page crashed',
])('tells that Chromium went away, and what to do: %s', (said) => {
  expect(wentAway(new Error(said))).toBe(true);
  expect(inPlainWords(new Error(said)).message).toBe(
    'Chromium, or a page in it, ended in the middle of the work. Nothing stored was changed; try again.',
  );
});

it.each([
  'Protocol error (Runtime.callFunctionOn): Cannot find context',
  "Runtime.callFunctionOn timed out. Increase the 'protocolTimeout' setting in launch/connect calls",
  'Execution context was destroyed, most likely because of a navigation.',
])('never speaks as the driver does: %s', (said) => {
  expect(inPlainWords(new Error(said)).message).toBe(
    'The page did not answer what it was asked in the middle of the work. Nothing stored was changed; try again.',
  );
});

it('keeps what is told already, and names what else broke off', () => {
  const told = new Trouble('input', 'Measure it first.');
  expect(inPlainWords(told)).toBe(told);
  expect(wentAway(new Error('net::ERR_ABORTED'))).toBe(false);
  expect(inPlainWords(new Error('Odd thing\nat line 3')).message).toBe(
    'Measuring broke off: Odd thing. Nothing stored was changed; try again.',
  );
});

it('says of what no text can hold that it was too much', () => {
  const error = Object.assign(new Error('Cannot create a string longer than 0x1fffffe8 characters'), {
    code: 'ERR_STRING_TOO_LONG',
  });
  expect(inPlainWords(error).message).toMatch(
    /^The page sent more in one file than can be held: half a gigabyte/,
  );
});
