import type { BillEntry } from '../words/bill.ts';
import { findingsBeside } from '../path/findings/beside.ts';
import type { Finding } from '../path/findings/index.ts';
import type { Floor } from '../path/floor.ts';
import { lineAbout } from '../path/line-codes.ts';
import type { MapAsset } from '../path/map.ts';
import { fileNameOf } from '../path/names.ts';
import { bytes, count, ms } from '../path/words.ts';

/** All that a shared report says; pictures as data: URLs. */
export interface ReportInput {
  site: string;
  page: string;
  url: string;
  conditions: string;
  takenAt: string;
  sentence: string;
  paintMs: number | null;
  bill: readonly BillEntry[];
  floor: Floor | null;
  metrics: readonly { label: string; median: string; spread: string }[];
  assets: readonly MapAsset[];
  findings: readonly Finding[];
  footnotes: readonly {
    number: number;
    text: string;
    /** Assets, a line of the bill by its code, a moment; none of them for a remark on the page. */
    cites: readonly string[];
    line: string | null;
    atMs: number | null;
  }[];
  frames: readonly { atMs: number; completeness: number; picture: string }[];
  quality: readonly string[];
}

const STYLE = `body{margin:0 auto;max-width:1060px;padding:28px;background:#f7f4ed;color:#1f2b33;font:15px/1.5 system-ui,sans-serif;font-variant-numeric:tabular-nums}
h1{font-size:22px;margin:0 0 4px}h2{font-size:16px;margin:26px 0 6px}small,.muted{color:#5c676d}
table{border-collapse:collapse;width:100%;background:#fffdf8;font-size:13px}td,th{padding:5px 9px;border-top:1px solid #ddd5c4;text-align:left;vertical-align:top}.n{text-align:right;white-space:nowrap}
.bar{display:flex;height:30px;margin:10px 0;background:#fffdf8}.bar i{display:block;border-right:1px solid #f7f4ed;background:#1f2b33;overflow:hidden;color:#fffdf8;font-style:normal;font-size:11px;padding:8px 0 0 4px;box-sizing:border-box}.bar i.light{background:#fffdf8;color:#1f2b33;border:1px solid #5c676d}
.frames{display:flex;gap:8px;flex-wrap:wrap}.frames figure{margin:0}.frames img{height:150px;border:1px solid #ddd5c4;display:block}sup{font-weight:700}`;

/** One HTML file that opens anywhere: no script, nothing fetched from outside. */
export function reportHtml(input: ReportInput): string {
  const numbers = (notes: ReportInput['footnotes']) =>
    notes.map((note) => `<sup>${note.number}</sup>`).join(' ');
  const noteOf = (url: string) => numbers(input.footnotes.filter((note) => note.cites.includes(url)));
  const noteOnLine = (index: number) =>
    numbers(
      input.footnotes.filter((note) => note.line !== null && lineAbout(input.bill, note.line) === index),
    );
  const paint = input.paintMs ?? 0;
  const bar = input.bill
    .map((segment) => {
      const long = segment.endMs - segment.startMs;
      const share = paint > 0 ? (100 * long) / paint : 0;
      const light = segment.url === undefined || segment.kind === 'connect';
      return `<i class="${light ? 'light' : ''}" style="width:${share.toFixed(2)}%" title="${escape(segment.label)}: ${ms(long)}">${share > 4 ? count(long) : ''}</i>`;
    })
    .join('');
  const besideOf = (segment: (typeof input.bill)[number]) => {
    const numbers = findingsBeside(segment, input.findings);
    return numbers.length ? ` <small>finding ${numbers.join(', ')}</small>` : '';
  };
  return `<!DOCTYPE html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escape(`${input.site}: ${input.page}`)}</title>
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; img-src data:; style-src 'unsafe-inline'"><style>${STYLE}</style></head><body>
<small>${escape(input.site)} / ${escape(input.page)} · ${escape(input.url)}<br>${escape(input.conditions)} · measured ${escape(input.takenAt)}</small>
<h1>${escape(input.sentence)}</h1>
<div class="bar">${bar}</div>
${table(
  ['', 'ms', 'What it waited for', 'Why'],
  input.bill.map((segment, index) => [
    num(String(index + 1)),
    num(count(segment.endMs - segment.startMs)),
    `${escape(segment.label)} ${noteOnLine(index)} ${segment.url ? noteOf(segment.url) : ''}`,
    escape(segment.why) + besideOf(segment),
  ]),
)}
${
  input.floor
    ? `<h2>The floor: ${ms(input.floor.atMs)}</h2>${table(
        ['ms', 'What no treatment takes away', 'Why'],
        input.floor.lines.map((line) => [num(count(line.ms)), escape(line.label), escape(line.why)]),
      )}`
    : ''
}
<h2>What the visitor sees</h2><div class="frames">${input.frames
    .map(
      (frame) =>
        `<figure><img alt="" src="${escape(frame.picture)}"><small>${ms(frame.atMs)}, ${Math.round(frame.completeness * 100)} %</small></figure>`,
    )
    .join('')}</div>
<h2>Figures</h2>${table(
    ['', 'median', 'min–max'],
    input.metrics.map((metric) => [escape(metric.label), num(metric.median), num(metric.spread)]),
  )}
<p class="muted">${input.quality.map(escape).join(' ')}</p>
<h2>Findings</h2><ol>${input.findings.map((finding) => `<li>${escape(finding.sentence)}</li>`).join('')}</ol>
<h2>Assets</h2>${table(
    ['Asset', 'Kind', 'Hold', 'Size', 'Waited ms', 'Gain ms', 'Evidence'],
    input.assets.map((asset) => [
      `${escape(asset.name)} ${noteOf(asset.url)}<br><small>${escape(asset.host)}</small>`,
      escape(asset.kind),
      asset.hold,
      num(bytes(asset.wireBytes)),
      num(asset.waitedMs >= 1 ? count(asset.waitedMs) : ''),
      num(asset.gainMs !== null && asset.gainMs >= 1 ? count(asset.gainMs) : ''),
      escape(asset.evidence),
    ]),
  )}
${
  input.footnotes.length
    ? `<h2>Footnotes</h2>${input.footnotes.map((note) => `<p><b>${note.number}</b> ${escape(note.text)}${aboutOf(note, input.bill)}</p>`).join('')}`
    : ''
}
</body></html>
`;
}

/** What a footnote is about, in words: its number stands in the margin only where there is a row for it. */
function aboutOf({ cites, line, atMs }: ReportInput['footnotes'][number], bill: ReportInput['bill']): string {
  const about = [
    ...cites.map(fileNameOf),
    ...(line === null ? [] : [`“${bill[lineAbout(bill, line)]?.label ?? 'a line that is gone'}”`]),
    ...(atMs === null ? [] : [`at ${ms(atMs)}`]),
  ];
  return about.length ? ` <small>${escape(about.join(', '))}</small>` : '';
}

interface Cell {
  html: string;
  number: boolean;
}

function num(text: string): Cell {
  return { html: escape(text), number: true };
}

function table(heads: readonly string[], rows: readonly (readonly (string | Cell)[])[]): string {
  const cell = (one: string | Cell) =>
    typeof one === 'string' ? `<td>${one}</td>` : `<td class="n">${one.html}</td>`;
  return `<table><tr>${heads.map((head) => `<th>${head}</th>`).join('')}</tr>${rows
    .map((row) => `<tr>${row.map(cell).join('')}</tr>`)
    .join('')}</table>`;
}

function escape(text: string): string {
  return text
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;');
}
