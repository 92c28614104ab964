import postcss from 'postcss';
import { picturesOf } from '../../html/assets.ts';
import type { MapAsset } from '../map.ts';
import { usesOfFont } from '../../fonts/uses.ts';
import { elementsThatNeed } from '../ties/sheet-ties.ts';
import type { FindingInput, FoundFact, PictureCode } from './finding.ts';

/** Hardly any of a sheet applies above the fold when it is less than this share. */
const HARDLY = 0.05;
/** A script is nearly unused when less than this share of it ran until load. */
const NEARLY_UNUSED = 0.3;
const LARGE_SCRIPT = 10_000;
const LARGE_PICTURE = 50_000;
/** Rules that say the same this often could be one class. */
const REPEATED = 8;

/** Sheets of which almost nothing applies above the fold, and what needs them there. */
export function idleSheets({ map, fold }: FindingInput): FoundFact[] {
  if (!fold) return [];
  return map.assets
    .filter((asset) => asset.kind === 'stylesheet' && asset.hold === 'holds')
    .flatMap((asset): FoundFact[] => {
      const rules = fold.rulesOf(asset.url);
      const kept = fold.kept.filter((rule) => rule.sheetUrl === asset.url && rule.concern !== 'hidden');
      if (rules === null || rules < 4 || kept.length / rules > HARDLY) return [];
      const needs = elementsThatNeed(asset.url, fold.kept).map(({ who }) => who);
      return [
        {
          id: `idle ${asset.url}`,
          line: 'waiting',
          facts: { code: 'idle sheet', url: asset.url, kept: kept.length, rules, needs },
          urls: [asset.url],
          costMs: asset.gainMs,
        },
      ];
    });
}

/** Scripts of which hardly anything ran before first paint, or before load where that is all that is known. */
export function idleScripts({ map, capture }: FindingInput): FoundFact[] {
  return capture.observations.scriptUsage.flatMap((usage): FoundFact[] => {
    const asset = map.assets.find((one) => one.url === usage.url && one.kind === 'script');
    if (!asset || asset.hold === 'after' || usage.bytes < LARGE_SCRIPT) return [];
    const ran = usage.usedByPaintBytes ?? usage.usedBytes;
    if (ran / usage.bytes > NEARLY_UNUSED) return [];
    return [
      {
        id: `hardly run ${usage.url}`,
        line: asset.hold === 'holds' ? 'waiting' : 'bytes',
        facts: {
          code: 'hardly run',
          url: usage.url,
          bytes: usage.bytes,
          byPaintBytes: usage.usedByPaintBytes,
          byLoadBytes: usage.usedBytes,
        },
        urls: [usage.url],
        costMs: asset.hold === 'holds' ? asset.gainMs : null,
      },
    ];
  });
}

/** Font files that paint nothing at all, and those that paint nothing above the fold. */
export function idleFonts({ map, capture, fold }: FindingInput): FoundFact[] {
  const { observations } = capture;
  const fonts = map.assets.filter((asset) => asset.kind === 'font' && asset.failed === null);
  const unused = fonts.filter(
    ({ url }) =>
      observations.fontFiles.some((one) => one.url === url) && usesOfFont(url, observations).length === 0,
  );
  const below = fold ? fonts.filter((one) => !unused.includes(one) && !fold.fonts.includes(one.url)) : [];
  return [
    ...idleFontsAs('fonts unused', 'nothing', unused),
    ...idleFontsAs('fonts', 'below the fold', below),
  ];
}

function idleFontsAs(
  id: string,
  paint: 'nothing' | 'below the fold',
  idle: readonly MapAsset[],
): FoundFact[] {
  if (idle.length === 0) return [];
  const size = idle.reduce((sum, one) => sum + one.wireBytes, 0);
  const urls = idle.map((one) => one.url);
  return [
    {
      id,
      line: idle.some((one) => one.hold !== 'after') ? 'bytes' : 'after the paint',
      facts: { code: 'idle fonts', urls, bytes: size, paint },
      urls,
      costMs: null,
    },
  ];
}

/** The same library more than once: the same bytes, or the same banner with another version. */
export function duplicateLibraries({ map, capture, text }: FindingInput): FoundFact[] {
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
    .map((urls): FoundFact => ({
      id: `twice ${urls[0]}`,
      line: 'bytes',
      facts: { code: 'loaded twice', urls },
      urls,
      costMs: null,
    }));
  const versions = [...byBanner]
    .filter(([, all]) => new Set(all.map((one) => one.version)).size > 1)
    .map(([name, all]): FoundFact => ({
      id: `versions ${name}`,
      line: 'bytes',
      facts: { code: 'versions', library: name, all },
      urls: all.map((one) => one.url),
      costMs: null,
    }));
  return [...same, ...versions];
}

/** Pictures: without a size, late though above the fold, far larger than shown, of an old format. */
export function pictures({ map, capture, html, conditions }: FindingInput): FoundFact[] {
  const found: FoundFact[] = [];
  const say = (code: PictureCode, line: FoundFact['line'], elements: { url: string }[]) => {
    const urls = elements.map((one) => one.url);
    if (urls.length)
      found.push({ id: code, line, facts: { code, urls, paint: map.target }, urls, costMs: null });
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
  );
  say(
    'fold picture held back',
    'waiting',
    images.filter(({ url, element }) => element.attributes['loading'] === 'lazy' && above.has(url)),
  );
  say(
    'low picture early',
    'bytes',
    images.filter(
      ({ url, element }) =>
        above.size > 0 && element.attributes['loading'] !== 'lazy' && !above.has(url) && isEarly(map, url),
    ),
  );
  const pixels = conditions.pixelRatio;
  say(
    'more pixels than shown',
    'bytes',
    [...above.values()].flatMap((box) =>
      box.natural && box.url && box.natural.width > box.box.width * pixels * 1.5 ? [{ url: box.url }] : [],
    ),
  );
  say(
    'older format',
    'bytes',
    capture.exchanges.filter(
      (one) => one.kind === 'image' && /jpe?g|png|gif/.test(one.mimeType) && one.wireBytes > LARGE_PICTURE,
    ),
  );
  return found;
}

/** The same declarations in many rules of their own. */
export function repeatedDeclarations({ map, text }: FindingInput): FoundFact[] {
  return map.assets
    .filter((asset) => asset.kind === 'stylesheet' && asset.hold === 'holds' && asset.party === 'first')
    .flatMap((asset): FoundFact[] => {
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
          facts: { code: 'repeated', url: asset.url, times: most, declarations: said },
          urls: [asset.url],
          costMs: null,
        },
      ];
    });
}

function isEarly(map: FindingInput['map'], url: string): boolean {
  return map.assets.find((asset) => asset.url === url)?.hold === 'crowds';
}
