// @vitest-environment jsdom
import { fireEvent, screen, within } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { footnotesOf } from '@/store/footnotes';
import { ownerNames } from '@/store/owners';
import { dialogGone, eventually, open, put, rowsOf, sentence, withDemo } from './application';
import { goTo } from './navigation';

vi.mock('next/navigation', () => import('./navigation'));
const { database } = withDemo();
const HOME = '/pages/1/map?conditions=slow-phone';

const number = (text: string | null | undefined) =>
  Number(
    /−?[\d,]+/
      .exec(text ?? '')![0]
      .replaceAll(',', '')
      .replace('−', '-'),
  );
const assets = () => [...document.querySelectorAll<HTMLElement>('.asset')];
const nameOf = (row: HTMLElement) => row.querySelector('b')!.textContent;
const evidence = () => screen.getByRole('complementary', { name: 'Evidence' });

/** The lines of the bill, which are put away until they are asked for. */
function billLines(): HTMLElement {
  const details = screen.getByText('The bill, line by line').closest('details')!;
  details.open = true;
  return within(details).getByRole('table');
}

it('shows the bill line by line, which sums to first paint', async () => {
  const user = await open(HOME);
  const paint = number(await sentence());
  // The rows of the assets come first.
  expect(screen.getByText('The bill, line by line').closest('details')!.open).toBe(false);
  const table = () => billLines();
  await user.click(within(table()).getByRole('button', { name: /^\d+ shorter lines$/ }));
  const lines = rowsOf(table()).map((row) => row.split(' | '));
  const last = lines.pop()!;
  expect(last[2]).toBe('first paint');
  expect(number(last[1])).toBe(paint);
  const sum = lines.reduce((total, cells) => total + number(cells[1]), 0);
  // Each line is rounded by itself.
  expect(Math.abs(sum - paint)).toBeLessThanOrEqual(lines.length / 2);
  expect(lines.map((cells) => Number(cells[0]))).toEqual(lines.map((_line, index) => index + 1));
});

it('itemises the floor when its mark on the bar is clicked, and names what to go after first', async () => {
  const user = await open(HOME);
  const floor = number(/could paint at ([\d,]+) ms/.exec(await sentence())![1]);
  const details = screen.getByText('The floor, line by line').closest('details')!;
  expect(details.open).toBe(false);
  await user.click(screen.getByRole('button', { name: /^floor [\d,]+$/ }));
  expect(details.open).toBe(true);
  const lines = rowsOf(await within(details).findByRole('table')).map((row) => row.split(' | '));
  const last = lines.pop()!;
  expect([number(last[1]), last[2]]).toEqual([floor, 'the floor']);
  const sum = lines.reduce((total, cells) => total + number(cells[1]), 0);
  expect(Math.abs(sum - floor)).toBeLessThanOrEqual(lines.length / 2);
  const gains = screen.getByLabelText('Gains');
  const figures = [...gains.querySelectorAll('b')].map((one) => number(one.textContent));
  expect(figures.length).toBeGreaterThan(2);
  expect(figures).toEqual([...figures].sort((a, b) => b - a));
  const [first] = within(gains).getAllByRole('button');
  await user.click(first!);
  expect(within(evidence()).getByRole('heading', { level: 2 }).textContent).toContain(first!.textContent);
  expect(within(evidence()).getByText(/^Removed alone/).textContent).toContain(`${figures[0]} ms`);
});

it('hangs the assets below it in three bands, holders first; a band can be put away', async () => {
  const user = await open(HOME);
  const bands = () => [...document.querySelectorAll('.band b')].map((one) => one.textContent);
  expect(bands()).toEqual(['Holds it', 'Crowds it', 'After']);
  expect(nameOf(assets()[0]!)).toBe('www.skerravane.localhost');
  const many = assets().length;
  await user.click(screen.getAllByRole('button', { name: 'hide' })[0]!);
  expect(assets().length).toBeLessThan(many);
  expect(assets().some((row) => row.classList.contains('tall'))).toBe(false);
  await user.click(screen.getByRole('button', { name: 'show', expanded: false }));
  expect(assets()).toHaveLength(many);
});

it('is gone through by keys; the evidence of the chosen asset stands beside it', async () => {
  const user = await open(HOME);
  const chosen = () => assets().find((row) => row.getAttribute('aria-pressed') === 'true')!;
  const first = nameOf(chosen());
  expect(within(evidence()).getByRole('heading', { level: 2 }).textContent).toContain(first);
  await user.keyboard('j');
  expect(nameOf(chosen())).not.toBe(first);
  expect(within(evidence()).getByRole('heading', { level: 2 }).textContent).toContain(nameOf(chosen()));
  await user.keyboard('k');
  expect(nameOf(chosen())).toBe(first);
});

it('tells of an asset who needs it, where it is asked for, its headers and its gain', async () => {
  const user = await open(HOME);
  await user.click(assets().find((row) => nameOf(row) === 'framework.css')!);
  const side = within(evidence());
  expect(
    side.getByText(
      /^Render-blocking stylesheet found in the HTML, line \d+; [\d,]+ of its [\d,]+ rules apply/,
    ),
  ).toBeTruthy();
  expect(side.getByText(/^Removed alone, it would gain/).textContent).toMatch(/gain [\d,]+ ms\.$/);
  expect(await side.findByText('Needed by')).toBeTruthy();
  expect(
    side
      .getByText(/^Where it is asked for/)
      .closest('details')!
      .querySelector('.here')!.textContent,
  ).toContain('framework.css');
  expect(side.getByText(/^content-type: text\/css/)).toBeTruthy();
});

it('tells of a library what it defines and which scripts read it, which lead to their rows', async () => {
  const user = await open(HOME);
  await user.click(assets().find((row) => nameOf(row) === 'lib.js')!);
  const side = within(evidence());
  const needed = within((await side.findByText('Needed by')).closest('details')!);
  expect(needed.getAllByText(/^inline script, line \d+$/).length).toBeGreaterThan(1);
  expect(side.getByText('Defines').closest('details')!.textContent).toMatch(/global names .*\w/);
  await user.click(needed.getByRole('button', { name: 'carousel.js' }));
  expect(side.getByRole('heading', { level: 2 }).textContent).toContain('carousel.js');
  const needs = within((await side.findByText('Needs')).closest('details')!);
  expect(needs.getByRole('button', { name: 'lib.js' })).toBeTruthy();
});

it('shows a picture, and where it stands in the page', async () => {
  const user = await open(HOME);
  await user.click(assets().find((row) => nameOf(row) === 'hero.jpg')!);
  const side = within(evidence());
  const picture = await side.findByRole('img', { name: 'The picture hero.jpg, as it was captured' });
  const answer = await fetch(picture.getAttribute('src')!);
  expect(answer.headers.get('content-type')).toBe('image/jpeg');
  expect(within(side.getByText('Needed by').closest('details')!).getByText('above the fold')).toBeTruthy();
});

it('shows content as it was sent or laid out to be read; what cannot be parsed stays as it was sent', async () => {
  const user = await open(HOME);
  await user.click(assets().find((row) => nameOf(row) === 'lib.js')!);
  const side = within(evidence());
  await user.click(await side.findByText('Content'));
  const code = () =>
    side
      .getByRole('region', { name: 'Content of lib.js' })
      .querySelector('.cm-content')!
      .textContent.slice(0, 300);
  await eventually(() => expect(code()).toContain('function'));
  const [first] = ['as it was sent', 'formatted'].flatMap((name) => side.queryAllByRole('button', { name }));
  if (first!.getAttribute('aria-pressed') === 'true') await user.click(first!);
  expect(side.getByText('As it was sent.')).toBeTruthy();
  const sent = code();
  await user.click(side.getByRole('button', { name: 'formatted' }));
  expect(await side.findByText('Laid out to be read: lines are not those of the file.')).toBeTruthy();
  await eventually(() => expect(code()).not.toBe(sent));
  await user.click(side.getByRole('button', { name: 'as it was sent' }));
  await eventually(() => expect(code()).toBe(sent));
});

it('leads from a line of the bill to its rule, or to that of what brought it', async () => {
  const user = await open(HOME);
  const table = billLines();
  await user.click(within(table).getByRole('button', { name: /^\d+ shorter lines$/ }));
  const treatOf = (line: RegExp) =>
    within(
      within(table)
        .getAllByRole('row')
        .find((row) => line.test(row.textContent ?? ''))!,
    ).getByRole('link', { name: 'treat' });
  const detail = () =>
    within(screen.getByRole('complementary', { name: 'Evidence' })).getAllByRole('heading', { level: 2 })[0]!
      .textContent;
  const there = (link: HTMLElement) => goTo(link.getAttribute('href')!);
  expect(within(table).getByText('the server answering').closest('tr')!.textContent).not.toContain('treat');
  const [own, brought] = [treatOf(/running lib\.js/), treatOf(/the server and the way for palette\.css/)];
  there(own);
  await eventually(() => expect(detail()).toBe('lib.js'));
  goTo(HOME);
  await sentence();
  there(brought);
  expect(
    await screen.findByText(/^palette\.css is asked for because of \w+\.css, and is treated with it\.$/),
  ).toBeTruthy();
  expect(detail()).toMatch(/\.css$/);
  goTo('/pages/1/map?conditions=slow-phone');
  await sentence();
  goTo(`/pages/1/treat?conditions=slow-phone&about=${encodeURIComponent('https://nobody.test/x.png')}`);
  expect(await screen.findByText('No rule of this plan is about x.png.')).toBeTruthy();
});

it('finds by name, hides kinds, and puts own hosts first', async () => {
  const user = await open(HOME);
  await user.click(screen.getByRole('button', { name: 'Own hosts first' }));
  const holders = assets().filter((row) => row.classList.contains('tall'));
  const parties = holders.map((row) => row.querySelector('.muted')!.textContent === 'www');
  expect(parties).toEqual([...parties].sort((a, b) => Number(b) - Number(a)));
  await user.click(screen.getByRole('button', { name: 'CSS: show' }));
  expect(
    assets()
      .map(nameOf)
      .some((name) => name!.endsWith('.css')),
  ).toBe(false);
  await user.type(screen.getByRole('textbox', { name: 'Find an asset by name' }), 'hero');
  expect(
    assets()
      .map(nameOf)
      .every((name) => name!.includes('hero')),
  ).toBe(true);
  expect(assets().length).toBeGreaterThan(0);
});

it('hides hosts, all but the page’s own at once, and shows them again', async () => {
  const user = await open(HOME);
  const hosts = () => new Set(assets().map((row) => row.querySelector('.label .muted')!.textContent));
  const all = assets().length;
  expect(hosts().size).toBeGreaterThan(2);
  await user.click(screen.getByRole('button', { name: /^Hosts \d+$/ }));
  await user.click(await screen.findByRole('menuitem', { name: 'Only the page’s own' }));
  expect([...hosts()]).toEqual(['www']);
  await user.click(screen.getByRole('menuitemcheckbox', { name: /^assentcleat/, checked: false }));
  expect([...hosts()].sort()).toEqual(['assentcleat', 'www']);
  await user.click(screen.getByRole('menuitem', { name: 'Show all hosts' }));
  expect(assets()).toHaveLength(all);
});

it('lists the other hosts once that is opened: what each is asked for, and what it costs', async () => {
  const user = await open(HOME);
  const summary = screen.getByText(/^\d+ other hosts, \d+ asked before the paint$/);
  await user.click(summary);
  const details = within(summary.closest('details')!);
  const rows = rowsOf(await details.findByRole('table')).slice(1);
  expect(rows).toHaveLength(Number(summary.textContent.split(' ')[0]));
  expect(rows.join()).toMatch(/assentcleat.*before the paint/);
  expect(details.getByRole('button', { name: 'Copy the list' })).toBeTruthy();
});

it('is zoomed by the wheel about the pointer, moved, and shown whole again by key', async () => {
  const user = await open(HOME);
  const chart = document.querySelector<HTMLElement>('.chart')!;
  const strip = () => document.querySelector<HTMLElement>('.bill .strip')!.style;
  chart.getBoundingClientRect = () => new DOMRect(0, 0, 1_320, 400);
  const [width, place] = [parseFloat(strip().width), strip().transform];
  fireEvent.wheel(chart, { ctrlKey: true, deltaY: -60, clientX: 820 });
  // Stretched at once; laid out at that length when the wheel rests.
  expect(strip().transform).toContain('scaleX(1.15');
  expect(parseFloat(strip().width)).toBe(width);
  await eventually(() => expect(parseFloat(strip().width)).toBeCloseTo(width * 1.15, 0));
  expect(strip().transform).not.toContain('scaleX');
  expect(strip().transform).not.toBe(place);
  // Every strip goes along, those of the rows and of the ticks too.
  const widths = new Set([...document.querySelectorAll<HTMLElement>('.strip')].map((one) => one.style.width));
  expect(widths.size).toBe(1);
  const before = strip().transform;
  fireEvent.wheel(chart, { shiftKey: true, deltaY: 80, clientX: 820 });
  expect(strip().transform).not.toBe(before);
  await user.keyboard('0');
  await eventually(() => expect(strip().width).toBe('100%'));
  fireEvent.wheel(chart, { deltaY: -60 });
  expect(strip().width).toBe('100%');
});

it('follows the pointer with a cursor and says the moment; over the labels there is none', async () => {
  await open(HOME);
  const chart = document.querySelector<HTMLElement>('.chart')!;
  chart.getBoundingClientRect = () => new DOMRect(0, 0, 1_320, 400);
  const cursor = document.querySelector<HTMLElement>('.cursor')!;
  fireEvent.mouseMove(chart, { clientX: 820 });
  expect([cursor.style.opacity, cursor.style.transform]).toEqual(['0.45', 'translateX(820px)']);
  expect(document.querySelector('.cursor-time')!.textContent).toMatch(/^cursor at [\d,]+ ms$/);
  fireEvent.mouseMove(chart, { clientX: 100 });
  expect(cursor.style.opacity).toBe('0');
  expect(document.querySelector('.cursor-time')!.textContent).toBe('');
});

it('gives the bill of another paint', async () => {
  const user = await open(HOME);
  const choice = screen.getByRole('combobox', { name: 'The paint that is looked back from' });
  await user.selectOptions(choice, 'of largest contentful paint');
  await eventually(async () => expect(await sentence()).toMatch(/^Largest contentful paint took [\d,]+ ms/));
  expect(document.querySelector('.bill .paint-word')!.textContent).toMatch(
    /^largest contentful paint [\d,]+$/,
  );
});

it('says what follows, by the line it would shorten, and shows the asset that a finding is about', async () => {
  const user = await open(HOME);
  const findings = within(screen.getByRole('region', { name: 'Findings' }));
  expect(findings.getAllByRole('listitem').length).toBeGreaterThan(8);
  const show = findings.getAllByRole('button', { name: /^show .*signs\.css$/ })[0]!;
  await user.click(show);
  expect(within(evidence()).getByRole('heading', { level: 2 }).textContent).toContain('signs.css');
});

it('puts beside a line of the bill the findings that would shorten it, which lead to their sentences', async () => {
  await open(HOME);
  const table = billLines();
  const row = within(table)
    .getAllByRole('row')
    .find((one) => /the server and the way for (palette|type)\.css/.test(one.textContent ?? ''))!;
  const links = within(row).getAllByRole('link', { name: /^finding \d+$/ });
  for (const link of links) {
    const finding = document.querySelector(link.getAttribute('href')!)!;
    expect(finding.querySelector('b')!.textContent).toBe(/\d+/.exec(link.textContent!)![0]);
    expect(finding.textContent).toContain(link.title);
  }
  expect(links.map((link) => link.title).join(' ')).toContain(
    'Linked in the HTML they would load side by side',
  );
});

it('names the owner of a third party, and counts its domains together from then on', async () => {
  const user = await open(HOME);
  const [first] = screen.getAllByRole('button', { name: /^whose/ });
  const domain = first!.getAttribute('aria-label')!.replace('whose? Name the owner of ', '');
  await user.click(first!);
  await put(user, await screen.findByRole('textbox', { name: 'Owner' }), 'Harbour Radio');
  await user.click(screen.getByRole('button', { name: 'Keep it' }));
  await dialogGone();
  expect((await ownerNames(await database())).get(domain)).toBe('Harbour Radio');
  expect(await screen.findByText(/Harbour Radio/)).toBeTruthy();
});

it('keeps a footnote on two rows together, numbers it in the margin, and deletes it', async () => {
  const user = await open(HOME);
  await user.click(assets().find((row) => nameOf(row) === 'framework.css')!);
  await user.keyboard('f');
  expect((await screen.findByRole('heading', { name: /^Footnote on framework\.css/ })).tagName).toBe('H2');
  await user.click(screen.getByRole('button', { name: 'Keep it' }));
  expect(await screen.findByText(/remark/i, { selector: '.Mui-error' })).toBeTruthy();
  await put(user, screen.getByRole('textbox', { name: 'Remark' }), 'Both come from the theme.');
  await user.selectOptions(screen.getByRole('combobox', { name: /^Cited together with/ }), 'signs.css');
  await user.click(screen.getByRole('button', { name: 'Keep it' }));
  await dialogGone();
  const notes = within(await screen.findByRole('region', { name: 'Footnotes' }));
  expect(notes.getByText('Both come from the theme.', { exact: false })).toBeTruthy();
  const numbered = assets().filter((row) => row.querySelector('.note-number'));
  expect(numbered.map(nameOf).sort()).toEqual(['framework.css', 'signs.css']);
  await user.click(notes.getByRole('button', { name: 'Delete footnote 1' }));
  await eventually(async () => expect(await footnotesOf(await database(), 1)).toEqual([]));
  await eventually(() => expect(screen.queryByRole('region', { name: 'Footnotes' })).toBeNull());
});

it('keeps a footnote on a line of the bill and one on a moment, each numbered in the margin; both can be changed', async () => {
  const user = await open(HOME);
  const table = () => billLines();
  const write = async (text: string) => {
    const field = await screen.findByRole('textbox', { name: 'Remark' });
    await user.clear(field);
    await put(user, field, text);
    await user.click(screen.getByRole('button', { name: 'Keep it' }));
    await dialogGone();
  };
  await user.click(within(table()).getByRole('button', { name: 'note on the server answering' }));
  expect(
    await screen.findByRole('heading', { name: 'Footnote on the line “the server answering”' }),
  ).toBeTruthy();
  await write('Ask the harbour office.');
  // It is looked for at every change of the document: by role and text that takes longer than the next change does.
  const row = () =>
    [...document.querySelectorAll('.bill-lines:not(#floor) tr')].find((one) =>
      one.textContent?.includes('the server answering'),
    )!;
  await eventually(() => expect(row().querySelector('.note-number')?.textContent).toMatch(/^\d+$/));

  const chart = document.querySelector<HTMLElement>('.chart')!;
  chart.getBoundingClientRect = () => new DOMRect(0, 0, 1_320, 400);
  fireEvent.mouseMove(chart, { clientX: 820 });
  const at = number(document.querySelector('.cursor-time')!.textContent);
  await user.keyboard('n');
  const moment = await screen.findByRole('textbox', { name: /^Moment, ms/ });
  expect(Number((moment as HTMLInputElement).value)).toBe(at);
  await user.clear(moment);
  await user.type(moment, 'soon');
  await put(user, screen.getByRole('textbox', { name: 'Remark' }), 'Nothing moves here.');
  await user.click(screen.getByRole('button', { name: 'Keep it' }));
  expect(await screen.findByText(/The moment is a number of ms/, { selector: '.Mui-error' })).toBeTruthy();
  await user.clear(moment);
  await user.type(moment, '640');
  await user.click(screen.getByRole('button', { name: 'Keep it' }));
  await dialogGone();
  const notes = within(await screen.findByRole('region', { name: 'Footnotes' }));
  expect(notes.getByText(/on “the server answering”/)).toBeTruthy();
  expect(await notes.findByText(/at 640 ms/)).toBeTruthy();
  expect(document.querySelectorAll('.ticks .note-number')).toHaveLength(1);

  const [change] = notes.getAllByRole('button', { name: /^Change footnote/ });
  await user.click(change!);
  await write('Ask the harbour office again.');
  await eventually(async () => {
    const [line, later] = await footnotesOf(await database(), 1);
    expect(line).toMatchObject({
      text: 'Ask the harbour office again.',
      line: expect.stringMatching(/^page-answering https:/) as string,
      urls: [],
      atMs: null,
    });
    expect(later).toMatchObject({ text: 'Nothing moves here.', line: null, urls: [], atMs: 640 });
  });
});

it('of a page that was never measured says so, and offers to measure it', async () => {
  const user = await open('/pages/2/map?conditions=slow-phone');
  expect(await sentence()).toBe('There is nothing to map yet.');
  await user.click(screen.getByRole('button', { name: 'Measure' }));
  expect(await screen.findByRole('button', { name: 'Waiting…' })).toHaveProperty('disabled', true);
});

it('of a page that does not exist says so, with a way back', async () => {
  await open(HOME);
  goTo('/pages/4711/map?conditions=slow-phone');
  const alert = await screen.findByRole('alert');
  expect(alert.textContent).toContain('There is no such page. It may have been deleted.');
  expect(within(alert).getByRole('link', { name: 'Go to the page board' }).getAttribute('href')).toBe('/');
});
