import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import * as v from 'valibot';
import { DECISIONS, PLAN } from '../../src/app/api/schemas.ts';
import { readOwnChecks } from '../../src/core/checks/own-check.ts';
import { readFieldFile } from '../../src/core/field/field-figures.ts';
import { liveRequests } from '../../src/core/har/har-requests.ts';
import { writeHar } from '../../src/core/har/write-har.ts';
import { readSitemap } from '../../src/core/html/sitemap.ts';
import { readServerTiming } from '../../src/core/measure/server-timing.ts';
import { readSteps } from '../../src/core/measure/visit.ts';
import { readPriority } from '../../src/core/network/send-order.ts';
import { CapturedPage, NoHtml } from '../../src/core/page/captured-page.ts';
import { readPageAssets } from '../../src/core/page/page-assets.ts';
import { mapRun } from '../../src/core/path/map.ts';
import { applyPlan } from '../../src/core/treat/apply.ts';
import { recommendPlan } from '../../src/core/treat/recommend.ts';
import { sceneOf } from '../../src/core/treat/scene.ts';
import { Trouble } from '../../src/engine/errors.ts';
import { readHarFile } from '../../src/engine/har/read-har-file.ts';
import { madeCapture } from '../engine/made-capture.ts';
import type { Draw } from './chance.ts';
import { mutatedJson, mutatedText } from './mutate.ts';

/** Whether an error is told to the user as it is: what is wrong, in a sentence. */
export function isPlain(error: unknown): boolean {
  if (error instanceof Trouble || error instanceof NoHtml || error instanceof v.ValiError) return true;
  return error instanceof Error && error.constructor === Error && /[.…”]$/.test(error.message);
}

const PAGE = madeCapture({
  'https://quay.test/': {
    kind: 'document',
    type: 'text/html',
    body: '<!DOCTYPE html><title>Quay</title><link rel=stylesheet href=a.css><script src=a.js></script><script src="https://other.test/t.js"></script><img src=i.png>',
  },
  'https://quay.test/a.css': { kind: 'stylesheet', type: 'text/css', body: '.a { color: red }' },
  'https://quay.test/a.js': { kind: 'script', type: 'text/javascript', body: 'document.title = "x"' },
  'https://other.test/t.js': { kind: 'script', type: 'text/javascript', body: 'window.t = 1' },
  'https://quay.test/i.png': { kind: 'image', type: 'image/png', body: 'no picture' },
});
const HAR = JSON.parse(
  JSON.stringify(
    writeHar(PAGE.capture, PAGE.bodies, { keepSecrets: true, secretHeaders: [], metrics: null }),
  ),
) as unknown;
const scene = sceneOf(readPageAssets(new CapturedPage(PAGE.capture, PAGE.bodies), []), null);
const PLAN_FILE: unknown = JSON.parse(JSON.stringify(recommendPlan(scene, 'high')));
const DECISIONS_FILE = {
  wistrelDecisions: 1,
  decisions: [
    {
      kind: 'script',
      knownBy: 'address',
      what: 'https://quay.test/a.js',
      treatment: 'defer',
      why: 'x',
      spared: ['/checkout*'],
    },
  ],
};
const JSON_BITS = [
  '{',
  '}',
  '[',
  ']',
  ':',
  ',',
  '"',
  '\\u',
  '\\ud800',
  'null',
  '1e999',
  '-',
  '"entries":[',
  '"log":{',
  'NaN',
];

/** A JSON file with other values in it, or broken as text. */
function jsonFile(value: unknown, draw: Draw): string {
  const text = JSON.stringify(draw.share() < 0.7 ? mutatedJson(value, draw) : value) ?? '';
  return draw.share() < 0.4 ? mutatedText(text, JSON_BITS, draw) : text;
}

/** Reads a hostile HAR file, and maps what it holds. @param folder where the file may lie meanwhile */
export async function readHostileHar(draw: Draw, folder: string): Promise<void> {
  const path = join(folder, 'hostile.har');
  writeFileSync(path, jsonFile(HAR, draw));
  const { capture, bodies } = await readHarFile(path);
  const requests = liveRequests(capture);
  mapRun({
    documentUrl: capture.documentUrl,
    requests,
    work: [],
    headline: null,
    ruleUsage: [],
    hidingEndedBy: [],
  });
  linked(new CapturedPage(capture, bodies));
}

function linked(page: CapturedPage): void {
  if (page.capture.exchanges.some((one) => one.url === page.capture.documentUrl && one.bodyHash))
    recommendPlan(sceneOf(readPageAssets(page, []), null));
}

/** Reads a hostile plan file, and puts it into a page where it is one. */
export function readHostilePlan(draw: Draw): void {
  const file = jsonFile(PLAN_FILE, draw);
  const read = v.parse(PLAN, parsed(file));
  applyPlan(scene, read as Parameters<typeof applyPlan>[1], { evenIllegal: draw.share() < 0.5 });
}

export function readHostileDecisions(draw: Draw): void {
  v.parse(DECISIONS, parsed(jsonFile(DECISIONS_FILE, draw)));
}

/** What is no JSON at all is said to be none by whoever reads it. */
function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

const TEXTS: readonly [read: (text: string) => unknown, text: string, bits: readonly string[]][] = [
  [
    readSitemap,
    '<?xml version="1.0"?><urlset xmlns="x"><url><loc>https://quay.test/a?b&amp;c</loc></url><sitemap><loc>https://quay.test/s.xml</loc></sitemap></urlset>',
    [
      '<url>',
      '</url>',
      '<loc>',
      '<![CDATA[',
      ']]>',
      '<!DOCTYPE x [<!ENTITY a "b">]>',
      '&a;',
      '&#0;',
      '<!--',
      '<?',
      '<sitemap>',
    ],
  ],
  [
    readFieldFile,
    'page,device,metric,p75\nhttps://quay.test/,phone,first contentful paint,1200\n',
    [',', '\n', '"', 'page', 'p75', '-', '1e999'],
  ],
  [
    readFieldFile,
    '[{"page":"https://quay.test/","device":"phone","metric":"firstContentfulPaintMs","p75":1200}]',
    JSON_BITS,
  ],
  [
    readOwnChecks,
    'press Menu, see Booking\ntype "a, b" into Search, not see .x',
    [',', '\n', '"', 'press ', 'see ', 'type ', ' into ', 'not '],
  ],
  [readSteps, 'press .accept\nuntil #menu\npause 500', ['press ', 'until ', 'pause ', '\n', '99999']],
  [
    (text) => readServerTiming([text]),
    'db;dur=53;desc="a, b", cache;desc=hit',
    [';', ',', '=', '"', '\\', 'dur', 'desc'],
  ],
  [readPriority, 'u=1, i', ['u', '=', ',', 'i', '?1', '(', ':', '"']],
];

/** Reads a hostile text of one of the kinds that users and servers write. */
export function readHostileText(draw: Draw): void {
  const [read, text, bits] = draw.of(TEXTS);
  read(mutatedText(text, bits, draw));
}
