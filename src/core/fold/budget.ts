import type { KeptRule } from './choose.ts';
import type { FoldDecision } from './decisions.ts';
import { compressedBytes, type FoldSheet } from './fold-css.ts';

/** Compressed bytes of a head that arrive with the first flight of packets (10 of 1,460 bytes, RFC 6928). */
export const BUDGET_BYTES = 14_600;

/** Of a sheet's own compressed bytes: with more than this share of it in the HTML, little is left to come late. */
const MOST_INLINE = 0.5;

/**
 * Whether fold CSS is little enough to stand in a page's HTML, where no cache holds it: it fits into the first flight of
 * packets, or most of its sheet stays out.
 *
 * @returns its compressed bytes and their share of the sheet's where that is too much; null where it is not
 */
export function tooMuchInline(foldCss: string, sheet: string): { bytes: number; share: number } | null {
  if (foldCss.length <= BUDGET_BYTES) return null;
  const bytes = compressedBytes(foldCss);
  const share = bytes / compressedBytes(sheet);
  if (bytes <= BUDGET_BYTES || share <= MOST_INLINE) return null;
  return { bytes, share };
}

/** Whether most of a CSS text are files written into it. */
export function isMostlyEmbedded(css: string): boolean {
  const data = css.match(/url\(\s*["']?data:[^"')]*/gi) ?? [];
  return data.join('').length > css.length / 2;
}

/** Something that could be given up to come under the budget, with what it would save. */
export interface GiveUp {
  what: string;
  /** What is risked by it. */
  risk: string;
  rules: number;
  /** About how much less the compressed head would have. */
  compressedBytes: number;
  decisions: FoldDecision[];
}

const MOST_DECISIONS = 200;
/** Embedded files of this size are worth naming. */
const EMBEDDED_BYTES = 600;

/**
 * What to give up first when the head exceeds its budget, in that order: files embedded in the CSS, what
 * only the widest viewport needs, what only one viewport needs, then what merely places boxes that lie
 * outside the fold. What paints above the fold at every viewport is not offered.
 */
export function giveUps(sheets: readonly FoldSheet[], viewports: readonly string[]): GiveUp[] {
  // Faces and animations are kept for what names them: no decision leaves them out by themselves.
  const kept = sheets.flatMap((sheet) => sheet.kept).filter(({ reason }) => reason !== 'named');
  const whole = sheets.map((sheet) => sheet.css).join('\n');
  const all = compressedBytes(whole);
  const taken = new Set<KeptRule>();
  const offers: GiveUp[] = [];
  const offer = (what: string, risk: string, pick: (rule: KeptRule) => boolean) => {
    const rules = kept.filter((rule) => !taken.has(rule) && pick(rule));
    if (rules.length === 0) return;
    for (const rule of rules) taken.add(rule);
    const bytes = rules.reduce((sum, rule) => sum + rule.bytes, 0);
    const total = sheets.flatMap((sheet) => sheet.kept).reduce((sum, rule) => sum + rule.bytes, 0);
    offers.push({
      what,
      risk,
      rules: rules.length,
      compressedBytes: Math.round((all * bytes) / Math.max(1, total)),
      decisions: decisionsFor(rules),
    });
  };
  // Widths between the chosen viewports go with them: what a laptop needs, something a bit narrower does, too.
  const onlyAt = (rule: KeptRule, viewport: string) => {
    const chosen = rule.neededBy.filter((need) => viewports.includes(need.viewport));
    return chosen.length > 0 && chosen.every((need) => need.viewport === viewport);
  };

  offer(
    'Rules with files embedded in them',
    'The pictures or letters they hold come with the late stylesheet.',
    (rule) => rule.embedded && rule.bytes > EMBEDDED_BYTES,
  );
  const widest = [...viewports].reverse();
  for (const viewport of widest)
    offer(
      `Rules that only ${viewport} needs`,
      `At ${viewport}, and at widths near it, what they style is drawn unstyled until the late stylesheet arrives.`,
      (rule) => onlyAt(rule, viewport),
    );
  offer(
    'Rules that only place boxes outside the fold',
    'Boxes above the fold may move when the late stylesheet arrives.',
    (rule) => rule.concern === 'shaping',
  );
  return offers;
}

function decisionsFor(rules: readonly KeptRule[]): FoldDecision[] {
  return [...new Set(rules.map((rule) => rule.selector))]
    .slice(0, MOST_DECISIONS)
    .map((what): FoldDecision => ({ verb: 'leave-out', by: 'rule', what }));
}
