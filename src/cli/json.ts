import { trialWords } from '../core/trial/verdict.ts';
import type { Conditions } from '../core/measure/conditions.ts';
import type { MetricSpreads, Spread } from '../core/measure/metrics.ts';
import { liveRequests } from '../core/har/har-requests.ts';
import type { Capture } from '../core/measure/exchange.ts';
import { HEADLINE_NAMES, headlineOfSpreads } from '../core/measure/headline.ts';
import { partsOf, shortfallWords, slowdownRate, speedOf, type Yardstick } from '../core/measure/yardstick.ts';
import { armName } from '../core/words/arms.ts';
import { blockWords, edgeWords } from '../core/words/edges.ts';
import { mapMeasured } from '../core/path/map-measured.ts';
import { handOversOf } from '../core/path/hand-overs.ts';
import { mapRun, type PageMap } from '../core/path/map.ts';
import type { FamilyChoice } from '../core/fold/family.ts';
import { countKept } from '../core/fold/count-kept.ts';
import { bytesOf } from '../core/fold/fold-css.ts';
import { whyKept } from '../core/fold/why-kept.ts';
import type { FoldCheck } from '../engine/fold/check-fold.ts';
import type { FoldResult, PicturedProof } from '../engine/fold/fold-result.ts';
import { fileNameOf } from '../core/path/names.ts';
import { ms } from '../core/path/words.ts';
import { matchText, type Plan, type PlanRule } from '../core/treat/plan.ts';
import { treatmentLabel } from '../core/treat/treatments/index.ts';
import type { ResultOf } from '../engine/jobs/orders.ts';
import type { MeasuredRuleGains } from '../engine/trial/run-rule-gains.ts';

/** The JSON that the command line writes; docs/formats.md documents every key. */
export function mapJson(result: Omit<ResultOf<'measure'>, 'kind'>, conditions: Conditions) {
  const { capture, measurement } = result;
  const headline = headlineOfSpreads(measurement.spreads);
  const { map, floor, findings } = mapMeasured(result, conditions);
  return {
    url: capture.url,
    conditions,
    network: 'shared bottleneck in user space',
    headline: HEADLINE_NAMES[headline],
    sentence: map.sentence,
    metrics: measurement.spreads as Record<keyof MetricSpreads, Spread> | null,
    quality: {
      ...measurement.quality,
      yardstick: yardstickJson(measurement.yardstick, conditions),
      disagreements: measurement.runs.map((one) => one.disagreements),
    },
    ...assetsAndBill(map),
    floorMs: floor?.atMs ?? null,
    floor: floor?.lines ?? [],
    findings: findings.map(({ line, sentence, urls, costMs }) => ({ line, sentence, urls, costMs })),
  };
}

/** How fast the machine was, and by what factor it was slowed. */
function yardstickJson(yardstick: Yardstick, { cpuSlowdown }: Conditions) {
  return {
    version: yardstick.version,
    speed: speedOf(yardstick),
    parts: partsOf(yardstick),
    quiet: yardstick.quiet,
    cpuRate: slowdownRate(cpuSlowdown, yardstick),
    short: shortfallWords(cpuSlowdown, yardstick),
  };
}

/** The same for a HAR without bodies: nothing was replayed, so there is no paint and no bill. */
export function liveMapJson(
  capture: Capture,
): Omit<
  ReturnType<typeof mapJson>,
  'conditions' | 'headline' | 'quality' | 'floorMs' | 'floor' | 'findings'
> {
  const map = mapRun({
    documentUrl: capture.documentUrl,
    requests: liveRequests(capture),
    work: [],
    headline: null,
    ruleUsage: [],
    hidingEndedBy: [],
  });
  return {
    url: capture.url,
    network: 'as the HAR file tells',
    sentence:
      'The HAR file holds no bodies: its requests are listed as they were, nothing could be replayed, and first paint is not known.',
    metrics: null,
    ...assetsAndBill(map),
  };
}

function assetsAndBill(map: PageMap) {
  return {
    assets: map.assets.map((asset) => ({
      url: asset.url,
      kind: asset.kind,
      party: asset.party,
      host: asset.host,
      wireBytes: asset.wireBytes,
      found: asset.found,
      renderBlocking: asset.renderBlocking,
      hold: asset.hold,
      blocks: asset.blocks && blockWords(asset.blocks),
      waitedMs: asset.waitedMs,
      gainMs: asset.gainMs,
      evidence: asset.evidence,
      startMs: asset.startMs,
      endMs: asset.endMs,
      ranMs: asset.ranMs,
      readMs: asset.readMs,
    })),
    graph: map.edges.map((edge) => ({ ...edge, cause: edgeWords(edge) })),
    paintBill: map.paintBill.map(({ code, label, why, kind, url, startMs, endMs }) => ({
      code,
      label,
      why,
      kind,
      ...(url ? { url } : {}),
      startMs,
      endMs,
    })),
    handOvers: handOversOf(map.paintBill, map.assets),
  };
}

/** Whether one set serves a page's family, with the figures behind it. */
type PageOfFamily = { choice: FamilyChoice; ownBytes: number; oneSetBytes: number };

export function foldJson(url: string, fold: FoldResult, family: PageOfFamily | null) {
  return {
    url,
    css: fold.css,
    sourceBytes: fold.sourceBytes,
    sourceCompressedBytes: fold.sourceCompressedBytes,
    foldBytes: fold.foldBytes,
    foldCompressedBytes: fold.foldCompressedBytes,
    headCompressedBytes: fold.headCompressedBytes,
    budgetBytes: fold.budgetBytes,
    giveUps: fold.giveUps.map(({ what, risk, rules, compressedBytes }) => ({
      what,
      risk,
      rules,
      compressedBytes,
    })),
    proved: fold.proved,
    remarks: fold.remarks,
    decisions: fold.decisions,
    overriddenDeclarations: fold.overridden,
    viewports: fold.viewports.map(proofJson),
    late: fold.late && {
      mode: fold.late.mode,
      asked: fold.late.asked,
      holds: fold.late.holds,
      viewports: fold.late.proofs,
      files: fold.late.files.map(({ css, ...file }) => ({ ...file, bytes: bytesOf(css) })),
    },
    sheets: fold.sheets.map((sheet) => ({
      url: sheet.url,
      keptRules: countKept(sheet.kept),
      rules: sheet.rules,
      sourceBytes: sheet.sourceBytes,
      foldBytes: sheet.foldBytes,
      keptWhole: sheet.whole,
    })),
    rules: fold.sheets.flatMap((sheet) =>
      sheet.kept.map((rule) => ({
        selector: rule.selector,
        context: rule.context,
        sheet: rule.sheetUrl,
        line: rule.line,
        bytes: rule.bytes,
        why: whyKept(rule),
        neededBy: rule.neededBy,
      })),
    ),
    timings: fold.timings,
    family: family && {
      choice: family.choice,
      ownCompressedBytes: family.ownBytes,
      oneSetCompressedBytes: family.oneSetBytes,
    },
  };
}

function proofJson({
  allCss: _all,
  foldOnly: _fold,
  difference: _difference,
  elements: _elements,
  ...proof
}: PicturedProof) {
  return proof;
}

export function foldCheckJson(url: string, file: string, check: FoldCheck) {
  return {
    url,
    file,
    holds: check.holds,
    bytes: check.bytes,
    compressedBytes: check.compressedBytes,
    viewports: check.viewports.map(proofJson),
  };
}

export function trialJson(url: string, { trial, notApplied }: ResultOf<'trial'>, isAsIs = true) {
  return {
    url,
    conditions: trial.conditions,
    visit: trial.visit,
    yardstick: yardstickJson(trial.yardstick, trial.conditions),
    sentence: trialWords(trial.result),
    verdict: trial.result.verdict,
    headline: HEADLINE_NAMES[trial.result.headline],
    arms: trial.arms.map((arm) => ({ id: arm.id, name: armName(arm.id, isAsIs), metrics: arm.spreads })),
    verdicts: {
      paint: { ...trial.result.paint, withheld: trial.result.withheld.paint },
      speedIndex: { ...trial.result.speedIndex, withheld: trial.result.withheld.speedIndex },
    },
    worse: trial.result.worse,
    better: trial.result.better,
    breaks: trial.result.breaks.map(({ words }) => words),
    moreArms: trial.moreArms,
    left: trial.left,
    undecided: trial.result.undecided,
    deeds: trial.checks.rehearsal?.deeds ?? [],
    checks: trial.checks,
    notApplied,
    wish: trial.wish,
    seed: trial.seed,
    windowMs: trial.windowMs,
  };
}

/** What each rule gained: of every step its rules, the paint after it, and by how much it came earlier. */
export function gainsJson({ headline, asIsMs, steps, seed }: MeasuredRuleGains, plan: Plan) {
  return {
    headline: HEADLINE_NAMES[headline],
    asIsMs,
    seed,
    steps: steps.map(({ ruleIds, paintMs, gained, worse }) => ({
      rules: plan.rules
        .filter((rule) => ruleIds.includes(rule.id))
        .map(({ id, match, treatment }) => ({ id, match, treatment })),
      paintMs,
      gainedMs: -gained.differenceMs,
      interval: gained.low === null || gained.high === null ? null : [-gained.high, -gained.low],
      verdict: gained.verdict,
      worse,
    })),
  };
}

/** The same as lines of text. */
export function gainLines({ asIsMs, steps }: MeasuredRuleGains, plan: Plan): string[] {
  const paint = (value: number | null) => (value === null ? '–' : ms(value)).padStart(10);
  return [
    `${paint(asIsMs)}  as is`,
    ...steps.map(({ ruleIds, paintMs, gained, worse }) => {
      const rules = plan.rules.filter((rule) => ruleIds.includes(rule.id));
      const names = rules.map((rule) => `${nameOf(rule)}: ${treatmentLabel(rule.kind, rule.treatment)}`);
      const what = names.length > 3 ? `${names.length} rules` : names.join(', ');
      const but = worse.length ? `, but ${worse.join(', ')}` : '';
      return `${paint(paintMs)}  ${what}: ${gained.verdict}, ${ms(-gained.differenceMs)}${but}`;
    }),
  ];
}

function nameOf({ match }: PlanRule): string {
  return 'url' in match ? fileNameOf(match.url) : matchText(match).slice(0, 60);
}
