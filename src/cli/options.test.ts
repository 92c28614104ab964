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
      inputs: [{ kind: 'url', url: 'https://quay.test/' }],
      runs: 3,
      json: null,
      conditions: { id: 'slow-phone' },
    });
    expect(readOptions(['trial', 'http://a.test/', '--plan', 'p.json']).runs).toBe(6);
    const two = readOptions(['trial', 'http://a.test/', '--plan', 'p.json', '--against', 'q.json']);
    expect([two.planFile, two.againstFile]).toEqual(['p.json', 'q.json']);
    const four = readOptions([
      'trial',
      'http://a.test/',
      '--plan',
      'p.json',
      '--beside',
      'q.json',
      '--ideal',
    ]);
    expect([four.besideFile, four.idealPage]).toEqual(['q.json', true]);
    expect(refused('prove', 'http://a.test/', '--ideal')).toMatch(/^Only a trial has further arms/);
    expect(readOptions(['trial', 'http://a.test/', '--plan', 'p.json', '--return-visit']).visit).toBe(
      'return',
    );
    expect(refused('prove', 'http://a.test/', '--return-visit')).toMatch(/^Only a trial times return visits/);
    expect(readOptions(['prove', 'http://a.test/', '--lighter-files']).lighterFiles).toBe(true);
    expect(refused('treat', 'http://a.test/', '--plan', 'p.json', '--out', 'd', '--lighter-files')).toMatch(
      /^Lighter files are made with a plan/,
    );
    const both = ['--plan', 'p.json', '--against', 'q.json', '--ideal'];
    expect(refused('trial', 'http://a.test/', ...both)).toMatch(/^With --against there is no page as is/);
    expect(refused('plan', 'http://a.test/', '--against', 'q.json')).toMatch(/^Only a trial holds one plan/);
    expect(readOptions(['prove', 'http://a.test/'])).toMatchObject({ command: 'prove', runs: 6 });
    expect(
      readOptions(['fold', 'http://a.test/', '--viewport', '390x844', '--viewport', '820x1180']).viewports,
    ).toEqual([
      { width: 390, height: 844 },
      { width: 820, height: 1180 },
    ]);
  });

  it('reads what is decided of fold CSS: selectors and sheets, a fold, a budget', () => {
    const given = readOptions([
      'fold',
      'http://a.test/',
      ...['--keep', '.menu > a', '--leave-out', 'print.css', '--viewport', '390x844@600'],
      ...['--budget', '10', '--rest', 'less-fold', '--check', 'mine.css'],
    ]);
    expect(given.decisions).toEqual([
      { verb: 'keep', by: 'selector', what: '.menu > a' },
      { verb: 'leave-out', by: 'sheet', what: 'print.css' },
    ]);
    expect(given.viewports).toEqual([{ width: 390, height: 844, foldHeight: 600 }]);
    expect([given.budgetBytes, given.rest, given.checkFile]).toEqual([10_000, 'less-fold', 'mine.css']);
  });

  it('reads what is said of plans: rehearsed unless asked otherwise, legal likewise', () => {
    expect(readOptions(['plan', 'http://a.test/'])).toMatchObject({ unrehearsed: false, evenIllegal: false });
    expect(readOptions(['plan', 'http://a.test/', '--unrehearsed']).unrehearsed).toBe(true);
    const allowed = readOptions([
      'trial',
      'http://a.test/',
      '--plan',
      'p.json',
      '--allow',
      'console',
      '--allow',
      'undecided',
    ]);
    expect([...allowed.allowed]).toEqual(['console', 'undecided']);
    expect(() => readOptions(['trial', 'http://a.test/', '--plan', 'p.json', '--allow', 'all'])).toThrow(
      '--allow takes console, failed-requests, missing-requests, rehearsal, first-picture, late-answers, undecided, other-device, not “all”.',
    );
    expect(
      readOptions(['treat', 'http://a.test/', '--plan', 'p.json', '--out', 'dir', '--even-illegal']),
    ).toMatchObject({ command: 'treat', out: 'dir', evenIllegal: true });
  });

  it('takes a HAR file for an address', () => {
    expect(readOptions(['map', 'pages/quay.har']).inputs).toEqual([{ kind: 'har', path: 'pages/quay.har' }]);
    expect(readOptions(['map', 'http://a.test/x.har']).inputs[0]?.kind).toBe('url');
  });

  it.each([
    [['sail'], /no command “sail”/],
    [[], /Name a command/],
    [['map'], /address of a page/],
    [['map', 'quay'], /not a full address/],
    [['map', 'ftp://quay.test/'], /Only http and https/],
    [['map', 'http://a.test/', '--runs', '0'], /1 to 50/],
    [['treat', 'http://a.test/', '--out', 'dir'], /needs a plan/],
    [['treat', 'http://a.test/', '--plan', 'p.json'], /--out DIR/],
    [['map', 'http://a.test/', '--conditions', 'fast'], /no conditions “fast”/],
    [['map', 'http://a.test/', '--speed', '1'], /Unknown option/],
    [['fold', 'http://a.test/', '--viewport', 'wide'], /like 390x844/],
    [['fold', 'http://a.test/', '--viewport', '390x844@900'], /lies between 50 and 844/],
    [['fold', 'http://a.test/', '--keep', '..a'], /a selector or a stylesheet/],
    [['fold', 'http://a.test/', '--budget', 'small'], /takes kilobytes/],
    [['fold', 'http://a.test/', '--rest', 'some'], /whole, less-fold or used-only/],
    [['plan', 'http://a.test/', '--risk', 'none'], /low, medium or high/],
    [['trial', 'http://a.test/'], /needs a plan/],
    [['next', 'http://a.test/'], /Give two addresses/],
    [['prove', 'http://a.test/', '--next-plan', 'p.json'], /--next-plan goes with next/],
    [['har', 'http://a.test/'], /Say where the HAR goes/],
    [['har', 'page.har', '--out', 'b.har'], /made of one page/],
  ])('refuses %j', (args, message) => {
    expect(refused(...args)).toMatch(message);
  });
});
