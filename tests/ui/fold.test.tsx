// @vitest-environment jsdom
import { fireEvent, screen, within } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import type { FoldDecision } from '@/core/fold/decisions';
import type { ViewportProof } from '@/core/fold/record';
import { DEFAULT_FOLD_SETTINGS } from '@/core/fold/settings';
import { foldSettingsOf, saveFoldSettings } from '@/store/fold-settings';
import { latestFold } from '@/store/proofs';
import { dialogGone, eventually, open, rowsOf, sentence, withDemo } from './application';

vi.mock('next/navigation', () => import('./navigation'));
const { database } = withDemo();
const FOLD = '/pages/1/fold?conditions=slow-phone';

const decisions = async () => (await foldSettingsOf(await database(), 1)).decisions;
const pictures = () => within(screen.getByRole('region', { name: 'Pictures' }));
const rules = () => within(screen.getByRole('list', { name: 'Kept rules' })).getAllByRole('listitem');

it('says first how little the fold needs and where that is proved', async () => {
  await open(FOLD);
  expect(await sentence()).toMatch(
    /^The fold needs [\d.]+ KB of [\d,]+ KB CSS, proved at 3 viewports and 3 widths between\.$/,
  );
  const fold = (await latestFold(await database(), 1))!;
  const share = (100 * fold.foldCompressedBytes) / fold.sourceCompressedBytes;
  expect(screen.getByText(/^The fold CSS: .* compressed of /).textContent).toContain(
    `${share.toFixed(1)} %.`,
  );
  expect(document.body.textContent).toContain(
    'Proved: then the whole page is as authored, and their arrival shifts nothing',
  );
});

it('shows the two pictures of every width, one after the other by key, and no difference where there is none', async () => {
  await open(FOLD);
  const slider = await pictures().findByRole('slider', { name: 'Width of the viewport' });
  const sources = () =>
    pictures()
      .getAllByRole('img')
      .map((one) => one.getAttribute('src'));
  const seen = new Set(sources());
  expect(pictures().getByText('390×844')).toBeTruthy();
  for (const width of ['672×844', '820×1180', '1096×1180', '1300×1180', '1440×900']) {
    fireEvent.keyDown(slider, { key: 'ArrowRight' });
    expect(await pictures().findByText(width)).toBeTruthy();
    for (const source of sources()) seen.add(source);
  }
  expect(seen.size).toBe(6 * 2);
  expect(pictures().queryByText(/Difference/)).toBeNull();
});

it('finds a rule by an element that needs it, with its sheet and line, and keeps it for good', async () => {
  const user = await open(FOLD);
  await user.type(screen.getByRole('textbox', { name: 'Find a rule, an element, a sheet' }), 'sk-sign');
  expect(rules().length).toBeGreaterThan(0);
  for (const rule of rules()) expect(rule.textContent).toMatch(/\.css, line \d+/);
  const keep = within(rules()[0]!).getByRole('button', { name: /^Always keep / });
  const selector = keep.getAttribute('aria-label')!.replace('Always keep ', '');
  await user.click(keep);
  await eventually(async () =>
    expect(await decisions()).toEqual([{ verb: 'keep', by: 'rule', what: selector }]),
  );
  // Saying the opposite of the same rule takes back what was said before.
  await user.click(within(rules()[0]!).getByRole('button', { name: /^Leave out / }));
  await eventually(async () =>
    expect(await decisions()).toEqual([{ verb: 'leave-out', by: 'rule', what: selector }]),
  );
  await user.click(await screen.findByRole('button', { name: /^Take back: Always leave out/ }));
  await eventually(async () => expect(await decisions()).toEqual([]));
});

it('takes decisions by selector, by sheet and by element, refuses what is no selector, and says what to do next', async () => {
  const user = await open(FOLD);
  const field = await screen.findByRole('textbox', { name: 'Selector, or stylesheet.css' });
  await user.type(field, 'a:::b{Enter}');
  expect((await screen.findByRole('alert')).textContent).toContain('That is not a selector.');
  expect(await decisions()).toEqual([]);
  await user.type(field, '.late-menu{Enter}');
  expect(await screen.findByText(/Always keep rules that name \.late-menu/)).toBeTruthy();
  await user.type(field, 'signs.css{Enter}');
  await eventually(async () => expect(await decisions()).toHaveLength(2));
  const element = await pictures().findByRole('combobox', { name: 'Element above the fold' });
  await user.type(element, 'h1');
  await user.click(within(await screen.findByRole('listbox')).getAllByRole('option')[0]!);
  await user.click(pictures().getByRole('button', { name: 'Leave it out' }));
  const wanted: Partial<FoldDecision>[] = [
    { verb: 'keep', by: 'selector', what: '.late-menu' },
    { verb: 'keep', by: 'sheet', what: 'signs.css' },
    { verb: 'leave-out', by: 'element' },
  ];
  await eventually(async () => expect(await decisions()).toMatchObject(wanted));
  expect(await screen.findByText('Your decisions have changed since: generate it again.')).toBeTruthy();
  await saveFoldSettings(await database(), 1, DEFAULT_FOLD_SETTINGS);
});

it('leaves a whole sheet out by one press beside its figures', async () => {
  const user = await open(FOLD);
  const table = screen.getAllByRole('table').find((one) => rowsOf(one)[0]!.startsWith('Stylesheet |'))!;
  const sheets = rowsOf(table).slice(1);
  const framework = sheets.findIndex((row) => row.startsWith('framework.css'));
  expect(sheets[framework]).toMatch(/ \| [\d.]+ KBof [\d.]+ KB[\d,]+ of [\d,]+ rules \| Leave out$/);
  await user.click(within(within(table).getAllByRole('row')[framework + 1]!).getByRole('button'));
  await eventually(async () =>
    expect(await decisions()).toEqual([
      { verb: 'leave-out', by: 'sheet', what: expect.stringMatching(/framework\.css$/) },
    ]),
  );
  await saveFoldSettings(await database(), 1, DEFAULT_FOLD_SETTINGS);
});

it('is set for other viewports, another budget and another rest; what cannot be is refused in the dialog', async () => {
  const user = await open(FOLD);
  await user.click(await screen.findByRole('button', { name: 'Viewports, budget, rest…' }));
  const dialog = within(await screen.findByRole('dialog'));
  await user.click(dialog.getByRole('button', { name: 'Remove 820×1180' }));
  const width = dialog.getAllByRole('spinbutton', { name: 'Width' })[0]!;
  await user.clear(width);
  await user.type(width, '20');
  await user.click(dialog.getByRole('button', { name: 'Save' }));
  expect((await dialog.findByRole('alert')).textContent).toBe('A viewport is at least 100 wide.');
  expect((await foldSettingsOf(await database(), 1)).viewports).toHaveLength(3);
  await user.clear(width);
  await user.type(width, '412');
  const budget = dialog.getByRole('textbox', { name: 'Budget for the compressed head, KB' });
  await user.clear(budget);
  await user.type(budget, '2');
  await user.click(dialog.getByRole('button', { name: 'Save' }));
  await dialogGone();
  const saved = await foldSettingsOf(await database(), 1);
  expect(saved.viewports.map((one) => one.width)).toEqual([412, 1440]);
  expect(saved.budgetBytes).toBe(2_000);
  await saveFoldSettings(await database(), 1, DEFAULT_FOLD_SETTINGS);
});

it('tells what goes over the budget, and gives it up by one press', async () => {
  const db = await database();
  const fold = (await latestFold(db, 1))!;
  const giveUps = [
    {
      what: 'What only 1440×900 shows',
      rules: 12,
      compressedBytes: 400,
      risk: 'A laptop first paints without it.',
      decisions: [{ verb: 'leave-out', by: 'rule', what: '.wide' }],
    },
  ];
  await db.query('UPDATE fold SET data = data || $2::jsonb WHERE id = $1', [
    fold.id,
    JSON.stringify({ giveUps, budgetBytes: 1024 }),
  ]);
  const user = await open(FOLD);
  expect(await screen.findByText(/over the budget of 1\.0 KB/)).toBeTruthy();
  const offers = within(screen.getByRole('list', { name: 'What to give up' }));
  expect(offers.getByText(/^What only 1440×900 shows: 12 rules, about 400 B compressed\./)).toBeTruthy();
  await user.click(offers.getByRole('button', { name: 'Give up' }));
  await eventually(async () => expect(await decisions()).toEqual(giveUps[0]!.decisions));
});

it('keeps what is pressed before it is known what was decided before', async () => {
  await saveFoldSettings(await database(), 1, DEFAULT_FOLD_SETTINGS);
  const own = globalThis.fetch;
  let come = (): void => undefined;
  const late = new Promise<void>((resolve) => (come = resolve));
  globalThis.fetch = async (...[address, init]: Parameters<typeof fetch>) => {
    const isAsked = String(address).endsWith('/fold-settings') && (init?.method ?? 'GET') === 'GET';
    if (isAsked) await late;
    return own(address, init);
  };
  try {
    const user = await open(FOLD);
    await user.click(within(rules()[0]!).getByRole('button', { name: /^Leave out / }));
    expect(await decisions()).toEqual([]);
    come();
    await eventually(async () => expect(await decisions()).toHaveLength(1));
  } finally {
    globalThis.fetch = own;
    await saveFoldSettings(await database(), 1, DEFAULT_FOLD_SETTINGS);
  }
});

it('shows the difference beside the two pictures where there is one, and what would mend it', async () => {
  const db = await database();
  const [row] = await db.query<{ id: number; data: { viewports: ViewportProof[] } }>(
    'SELECT id, data FROM fold WHERE page_id = 1 ORDER BY id DESC LIMIT 1',
  );
  const { viewports } = row!.data;
  const [first] = viewports;
  const differing: ViewportProof = {
    ...first!,
    holds: false,
    differingPixelShare: 0.02,
    differences: [
      {
        left: 20,
        top: 40,
        width: 80,
        height: 30,
        element: 'a.brand',
        property: 'color',
        rule: { selector: '.brand', sheet: 'site.css' },
      } as unknown as ViewportProof['differences'][number],
    ],
  };
  const put = (all: readonly ViewportProof[]) =>
    db.query('UPDATE fold SET data = jsonb_set(data, $2, $3) WHERE id = $1', [
      row!.id,
      ['viewports'],
      JSON.stringify(all),
    ]);
  await put([differing, ...viewports.slice(1)]);
  await open(FOLD);
  expect(await pictures().findByText('Difference: differing pixels in ink')).toBeTruthy();
  expect(pictures().getAllByRole('img')).toHaveLength(3);
  expect(pictures().getByRole('list', { name: 'What differs' }).textContent).toContain(
    'a.brand differs in color for want of .brand',
  );
  await put(viewports);
});
