import { expect, it } from 'vitest';
import { NoNavigation } from '../../core/measure/trace.ts';
import { untilTraced } from './until-traced.ts';

/** A load that goes wrong as said, and then well. */
function loading(...wrong: Error[]) {
  const left = [...wrong];
  let loads = 0;
  const load = () => {
    loads++;
    const error = left.shift();
    return error ? Promise.reject(error) : Promise.resolve('a run');
  };
  return { load, loads: () => loads };
}

it('makes a load again whose trace was lost, and no other', async () => {
  const lost = loading(new NoNavigation(), new NoNavigation());
  expect(await untilTraced(lost.load)).toBe('a run');
  expect(lost.loads()).toBe(3);
  const broken = loading(new Error('The browser is gone.'));
  await expect(untilTraced(broken.load)).rejects.toThrow('The browser is gone.');
  expect(broken.loads()).toBe(1);
});

it('does not go on for ever', async () => {
  const { load, loads } = loading(...Array.from({ length: 9 }, () => new NoNavigation()));
  await expect(untilTraced(load)).rejects.toThrow(/no navigation/);
  expect(loads()).toBe(3);
});
