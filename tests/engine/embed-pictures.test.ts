import sharp from 'sharp';
import { expect, it } from 'vitest';
import type { VisitState } from '../../src/core/measure/visit.ts';
import { pictureEmbeds } from '../../src/engine/lighter/picture-embeds.ts';
import { madeCapture, type MadeFile } from './made-capture.ts';

const PAGE = 'https://quay.test/';
const document = (body: string): MadeFile => ({ body, type: 'text/html', kind: 'document' });

it('takes a picture of each embed that shows something, as it is when one has come to it', async () => {
  const { capture, bodies } = madeCapture({
    [PAGE]: document(
      `<!doctype html><body style="margin:0;background:#fff"><header style="position:fixed;inset:0;background:#f0f;z-index:9">Quay</header><div style="height:2500px"></div>
      <iframe loading="lazy" src="https://charts.test/route" style="border:10px solid #f00;display:block" width="300" height="150"></iframe>
      <iframe src="blank.html" width="300" height="150"></iframe><iframe src="dot.html" width="1" height="1"></iframe>
      <iframe hidden src="hidden.html" width="300" height="150"></iframe>`,
    ),
    'https://charts.test/route': document(
      '<body style="margin:0;background:#00f"><div style="width:50%;height:150px;background:#0f0"></div>',
    ),
    ...Object.fromEntries(
      ['blank', 'dot', 'hidden'].map((name) => [
        `${PAGE}${name}.html`,
        document(name === 'blank' ? '' : 'x'),
      ]),
    ),
  });
  const steps: string[] = [];
  const { embeds, bodies: made } = await pictureEmbeds({ capture, bodies, state: null }, (step) =>
    steps.push(step),
  );
  expect(steps).toEqual(['What embeds show']);
  const hash = capture.exchanges.find(({ url }) => url === 'https://charts.test/route')!.bodyHash;
  expect(embeds.map(({ url, of }) => [url, of])).toEqual([['https://charts.test/route', hash]]);
  const picture = sharp(made.get(embeds[0]!.bodyHash)!);
  const { data, info } = await picture.removeAlpha().raw().toBuffer({ resolveWithObject: true });
  // Twice as many pixels as it is wide, without the border of its frame.
  expect([info.width, info.height]).toEqual([600, 300]);
  const at = (x: number, y: number) => [...data.subarray((y * 600 + x) * 3, (y * 600 + x) * 3 + 3)];
  const isNear = (one: readonly number[], other: readonly number[]) =>
    one.every((value, index) => Math.abs(value - other[index]!) < 30);
  expect(isNear(at(20, 150), [0, 255, 0])).toBe(true);
  expect(isNear(at(580, 5), [0, 0, 255])).toBe(true);
});

it('takes it of the frame that is shown, and none of what may be somebody’s own', async () => {
  const { capture, bodies } = madeCapture({
    [PAGE]: document(
      '<!doctype html><iframe hidden src="chart.html"></iframe><iframe src="chart.html"></iframe>',
    ),
    [`${PAGE}chart.html`]: document('<body style="background:#00f">Chart'),
  });
  const of = async (state: VisitState | null) =>
    (await pictureEmbeds({ capture, bodies, state }, () => undefined)).embeds.map(({ url }) => url);
  expect(await of(null)).toEqual([`${PAGE}chart.html`]);
  const items: [string, string][] = [['name', 'Ann']];
  expect(await of({ cookies: [], storage: [{ origin: 'https://quay.test', items }] })).toEqual([]);
});

it('is quick where there is none', async () => {
  const { capture, bodies } = madeCapture({ [PAGE]: document('<h1>Quay</h1>') });
  const steps: string[] = [];
  const made = await pictureEmbeds({ capture, bodies, state: null }, (step) => steps.push(step));
  expect([made.embeds, steps]).toEqual([[], []]);
});
