import { describe, expect, it } from 'vitest';
import { readOptions, UsageError } from './options.ts';

const refused = (...args: string[]) => {
  try {
    readOptions(args);
  } catch (error) {
    return error instanceof UsageError ? error.message : String(error);
  }
  return null;
};

describe('readOptions', () => {
  it('reads a call with its defaults', () => {
    expect(readOptions(['map', 'https://quay.test/#top'])).toMatchObject({
      command: 'map',
      urls: ['https://quay.test/'],
      runs: 3,
      json: null,
      conditions: { id: 'slow-phone' },
    });
    expect(readOptions(['trial', 'http://a.test/', '--plan', 'p.json']).runs).toBe(6);
    expect(
      readOptions(['fold', 'http://a.test/', '--viewport', '390x844', '--viewport', '820x1180']).viewports,
    ).toEqual([
      { width: 390, height: 844 },
      { width: 820, height: 1180 },
    ]);
  });

  it.each([
    [['sail'], /no command “sail”/],
    [[], /Name a command/],
    [['map'], /address of a page/],
    [['map', 'quay'], /not a full address/],
    [['map', 'ftp://quay.test/'], /Only http and https/],
    [['map', 'http://a.test/', '--runs', '0'], /1 to 50/],
    [['map', 'http://a.test/', '--conditions', 'fast'], /no conditions “fast”/],
    [['map', 'http://a.test/', '--speed', '1'], /Unknown option/],
    [['fold', 'http://a.test/', '--viewport', 'wide'], /like 390x844/],
    [['plan', 'http://a.test/', '--risk', 'none'], /low, medium or high/],
    [['trial', 'http://a.test/'], /needs a plan/],
    [['map', 'page.har'], /HAR files cannot be read yet/],
  ])('refuses %j', (args, message) => {
    expect(refused(...args)).toMatch(message);
  });
});
