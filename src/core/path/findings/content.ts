import postcss from 'postcss';
import { picturesOf } from '../../html/assets.ts';
import type { MapAsset } from '../map.ts';
import { fileNameOf } from '../party.ts';
import { usesOfFont } from '../ties/file-ties.ts';
import { elementsThatNeed } from '../ties/sheet-ties.ts';
import { fewOf } from '../ties/ties.ts';
import { bytes, count, paintName } from '../words.ts';
import type { Finding, FindingInput } from './finding.ts';

/** Hardly any of a sheet applies above the fold when it is less than this share. */
const HARDLY = 0.05;
/** A script is nearly unused when less than this share of it ran until load. */
const NEARLY_UNUSED = 0.3;
const LARGE_SCRIPT = 10_000;
const LARGE_PICTURE = 50_000;
/** Rules that say the same this often could be one class. */
const REPEATED = 8;

/** Sheets of which almost nothing applies above the fold, and what needs them there. */
export function idleSheets({ map, fold }: FindingInput): Finding[] {
  if (!fold) return [];
  return map.assets
    .filter((asset) => asset.kind === 'stylesheet' && asset.hold === 'holds')
    .flatMap((asset): Finding[] => {
      const rules = fold.rulesOf(asset.url);
      const kept = fold.kept.filter((rule) => rule.sheetUrl === asset.url && rule.concern !== 'hidden');
      if (rules === null || rules < 4 || kept.length / rules > HARDLY) return [];
      const needs = elementsThatNeed(asset.url, fold.kept).map(({ who }) => who);
      return [
        {
          id: `idle ${asset.url}`,
          line: 'waiting',
          sentence: `${count(kept.length)} of ${count(rules)} rules of ${asset.name} apply above the fold${
            needs.length ? `, for ${fewOf(needs)}` : ''
          }: the fold CSS holds them, the rest can come late.`,
          urls: [asset.url],
          costMs: asset.gainMs,
        },
      ];
    });
}

/** Scripts of which hardly anything ran before first paint, or before load where that is all that is known. */
export function idleScripts({ map, capture }: FindingInput): Finding[] {
  return capture.observations.scriptUsage.flatMap((usage): Finding[] => {
    const asset = map.assets.find((one) => one.url === usage.url && one.kind === 'script');
    if (!asset || asset.hold === 'after' || usage.bytes < LARGE_SCRIPT) return [];
    const ran = usage.usedByPaintBytes ?? usage.usedBytes;
    if (ran / usage.bytes > NEARLY_UNUSED) return [];
    const percent = (used: number) => `${Math.round((used / usage.bytes) * 100)} %`;
    const known = usage.usedByPaintBytes !== null;
    return [
      {
        id: `hardly run ${usage.url}`,
        line: asset.hold === 'holds' ? 'waiting' : 'bytes',
        sentence: `${percent(ran)} of ${asset.name} (${bytes(ran)} of ${bytes(usage.bytes)}) ran before ${
          known ? `first paint, ${percent(usage.usedBytes)} before load` : 'load'
        }.`,
        urls: [usage.url],
        costMs: asset.hold === 'holds' ? asset.gainMs : null,
      },
    ];
  });
}

/** Font files that paint nothing at all, and those that paint nothing above the fold. */
export function idleFonts({ map, capture, fold }: FindingInput): Finding[] {
  const { observations } = capture;
  const fonts = map.assets.filter((asset) => asset.kind === 'font' && asset.failed === null);
  const unused = fonts.filter(
    ({ url }) =>
      observations.fontFiles.some((one) => one.url === url) && usesOfFont(url, observations).length === 0,
  );
  const below = fold ? fonts.filter((one) => !unused.includes(one) && !fold.fonts.includes(one.url)) : [];
  return [
    ...idleFontsAs('fonts unused', 'nothing at all', unused),
    ...idleFontsAs('fonts', 'nothing above the fold', below),
  ];
}

function idleFontsAs(id: string, what: string, idle: readonly MapAsset[]): Finding[] {
  if (idle.length === 0) return [];
  const size = idle.reduce((sum, one) => sum + one.wireBytes, 0);
  return [
    {
      id,
      line: idle.some((one) => one.hold !== 'after') ? 'bytes' : 'after the paint',
      sentence: `${idle.map((one) => one.name).join(', ')} (${bytes(size)}) ${idle.length === 1 ? 'paints' : 'paint'} ${what}.`,
      urls: idle.map((one) => one.url),
      costMs: null,
    },
  ];
}

/** The same library more than once: the same bytes, or the same banner with another version. */
export function duplicateLibraries({ map, capture, text }: FindingInput): Finding[] {
  const scripts = map.assets.filter((asset) => asset.kind === 'script');
  const byBody = new Map<string, string[]>();
  const byBanner = new Map<string, { url: string; version: string }[]>();
  for (const { url } of scripts) {
    const hash = capture.exchanges.find((one) => one.url === url)?.bodyHash;
    if (hash) byBody.set(hash, [...new Set([...(byBody.get(hash) ?? []), url])]);
    const banner = /\/\*!?[\s*]*([A-Za-z][\w .-]{2,40}?)[\s:,@]+v?(\d+\.\d+(?:\.\d+)?)/.exec(
      text(url)?.slice(0, 500) ?? '',
    );
    if (banner) {
      const name = banner[1]!.trim().toLowerCase();
      byBanner.set(name, [...(byBanner.get(name) ?? []), { url, version: banner[2]! }]);
    }
  }
  const same = [...byBody.values()]
    .filter((urls) => urls.length > 1)
    .map((urls): Finding => ({
      id: `twice ${urls[0]}`,
      line: 'bytes',
      sentence: `The same script is loaded ${urls.length} times: ${urls.map(fileNameOf).join(', ')}.`,
      urls,
      costMs: null,
    }));
  const versions = [...byBanner]
    .filter(([, all]) => new Set(all.map((one) => one.version)).size > 1)
    .map(([name, all]): Finding => ({
      id: `versions ${name}`,
      line: 'bytes',
      sentence: `${name} is loaded in ${all.length} versions: ${all.map((one) => `${one.version} (${fileNameOf(one.url)})`).join(', ')}.`,
      urls: all.map((one) => one.url),
      costMs: null,
    }));
  return [...same, ...versions];
}

/** Pictures: without a size, late though above the fold, far larger than shown, of an old format. */
export function pictures({ map, capture, html, conditions }: FindingInput): Finding[] {
  const found: Finding[] = [];
  const say = (
    id: string,
    line: Finding['line'],
    elements: { url: string }[],
    tell: (names: string) => string,
  ) => {
    if (elements.length === 0) return;
    const names = elements.map((one) => fileNameOf(one.url));
    found.push({
      id,
      line,
      sentence: tell(names.slice(0, 4).join(', ') + (names.length > 4 ? ' and others' : '')),
      urls: elements.map((one) => one.url),
      costMs: null,
    });
  };
  const above = new Map(
    capture.observations.boxes.flatMap((box) => (box.tag === 'img' && box.url ? [[box.url, box]] : [])),
  );
  // Of the files that an element may show, the one that it did.
  const images = picturesOf(html, capture.documentUrl).map(({ element, urls }) => ({
    element,
    url:
      urls.find((one) => above.has(one)) ??
      urls.find((one) => map.assets.some((asset) => asset.url === one)) ??
      urls[0]!,
  }));
  say(
    'no room kept',
    'after the paint',
    images.filter(({ element }) => !('width' in element.attributes && 'height' in element.attributes)),
    (names) => `Pictures without width and height, so that what stands below them shifts: ${names}.`,
  );
  say(
    'fold picture held back',
    'waiting',
    images.filter(({ url, element }) => element.attributes['loading'] === 'lazy' && above.has(url)),
    (names) => `Pictures above the fold are loaded lazily, so later than they could be: ${names}.`,
  );
  say(
    'low picture early',
    'bytes',
    images.filter(
      ({ url, element }) =>
        above.size > 0 && element.attributes['loading'] !== 'lazy' && !above.has(url) && isEarly(map, url),
    ),
    (names) => `Pictures below the fold take the line before ${paintName(map.target)}: ${names}.`,
  );
  const pixels = conditions.pixelRatio;
  say(
    'more pixels than shown',
    'bytes',
    [...above.values()].flatMap((box) =>
      box.natural && box.url && box.natural.width > box.box.width * pixels * 1.5 ? [{ url: box.url }] : [],
    ),
    (names) =>
      `Pictures have more than twice the pixels that these conditions can show: ${names}. A size for the viewport would do.`,
  );
  say(
    'older format',
    'bytes',
    capture.exchanges.filter(
      (one) => one.kind === 'image' && /jpe?g|png|gif/.test(one.mimeType) && one.wireBytes > LARGE_PICTURE,
    ),
    (names) => `Large pictures in an older format, which a modern one would show in fewer bytes: ${names}.`,
  );
  return found;
}

/** The same declarations in many rules of their own. */
export function repeatedDeclarations({ map, text }: FindingInput): Finding[] {
  return map.assets
    .filter((asset) => asset.kind === 'stylesheet' && asset.hold === 'holds' && asset.party === 'first')
    .flatMap((asset): Finding[] => {
      const times = new Map<string, number>();
      try {
        postcss.parse(text(asset.url) ?? '').walkRules((rule) => {
          const said = rule.nodes
            .map((node) => node.toString().trim())
            .sort()
            .join(';');
          if (rule.nodes.length > 1) times.set(said, (times.get(said) ?? 0) + 1);
        });
      } catch {
        return [];
      }
      const [said, most] = [...times].sort((a, b) => b[1] - a[1])[0] ?? ['', 0];
      if (most < REPEATED) return [];
      return [
        {
          id: `repeated ${asset.url}`,
          line: 'bytes',
          sentence: `${count(most)} rules of ${asset.name} say the same in full: ${said.slice(0, 60)}${said.length > 60 ? '…' : ''}.`,
          urls: [asset.url],
          costMs: null,
        },
      ];
    });
}

function isEarly(map: FindingInput['map'], url: string): boolean {
  return map.assets.find((asset) => asset.url === url)?.hold === 'crowds';
}
