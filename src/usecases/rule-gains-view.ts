import { readEmbeds } from '../core/embeds/page-embeds.ts';
import type { HeadlineKey } from '../core/measure/headline.ts';
import { capital } from '../core/path/words.ts';
import { activeRules, type PlanRule } from '../core/treat/plan.ts';
import { treatmentLabel } from '../core/treat/treatments/index.ts';
import type { PairedDifference } from '../core/trial/statistics.ts';
import { whyOtherBasis } from '../core/trial/staleness.ts';
import { faultsOf } from '../core/rehearse/rehearsal.ts';
import { rehearsedSentence } from '../core/words/rehearsal.ts';
import { ruleGainsSentence } from '../core/words/rule-gains.ts';
import { conditionsById } from '../store/conditions.ts';
import type { Queries } from '../store/database.ts';
import { evidenceOf, type Evidence } from '../store/rehearsals.ts';
import { findRuleGains } from '../store/rule-gains.ts';
import { foldMark } from './fold-hash.ts';
import { ruleLabel } from './rule-label.ts';
import { measuredPage, planFor } from './stored-page.ts';

/** A step of a plan as a screen tells it. */
export interface GainRow {
  /** Its rules: the asset's address or text, or an embed's title, and what is done to it. */
  rules: { ruleId: string; label: string; treatment: string }[];
  paintMs: number | null;
  gained: PairedDifference;
  worse: string[];
}

export interface RuleGainsView {
  takenAt: string;
  sentence: string;
  headline: HeadlineKey;
  asIsMs: number | null;
  steps: GainRow[];
  /** What rehearsing took out of the plan before, or made weaker, with its evidence. */
  excepted: {
    ruleId: string;
    label: string;
    treatment: string;
    becomes: string;
    evidence: string;
    pictures: Evidence | null;
  }[];
  /** What rehearsing found of a plan of one's own: that it breaks the page, or was not rehearsed; null where neither. */
  warning: string | null;
  stale: string[];
  tooBusy: boolean;
}

/** What each rule of a page's plan gained, put in one after the other; null where that was not measured. */
export async function ruleGainsView(
  queries: Queries,
  pageId: number,
  conditionsId: string,
): Promise<RuleGainsView | null> {
  const gains = await findRuleGains(queries, pageId, conditionsId);
  const page = gains && (await measuredPage(queries, pageId, conditionsId));
  if (!gains || !page) return null;
  const now = await planFor(queries, pageId, page);
  const { plan, fold, own, rehearsal } = now;
  const shown = await evidenceOf(queries, pageId, now.rehearsalKey);
  const conditions = await conditionsById(queries, conditionsId);
  const embeds = readEmbeds(page.assets.captured);
  const told = (rule: PlanRule) => ({
    ruleId: rule.id,
    label: ruleLabel(rule, embeds),
    treatment: treatmentLabel(rule.kind, rule.treatment),
  });
  const rules = activeRules(gains.plan);
  return {
    takenAt: gains.takenAt,
    sentence: ruleGainsSentence(gains),
    headline: gains.headline,
    asIsMs: gains.asIsMs,
    steps: gains.steps.map(({ ruleIds, paintMs, gained, worse }) => ({
      rules: rules.filter((rule) => ruleIds.includes(rule.id)).map(told),
      paintMs,
      gained,
      worse,
    })),
    excepted: own
      ? []
      : (rehearsal?.exceptions ?? []).flatMap(({ ruleId, treatment, becomes, evidence }) => {
          const rule = plan.rules.find((one) => one.id === ruleId);
          return rule
            ? [
                {
                  ...told({ ...rule, treatment }),
                  becomes: treatmentLabel(rule.kind, becomes),
                  evidence: capital(evidence),
                  pictures: shown.get(ruleId) ?? null,
                },
              ]
            : [];
        }),
    warning:
      (rehearsal && faultsOf(rehearsal).length === 0) || !own ? null : rehearsedSentence(rehearsal, own),
    stale: whyOtherBasis(
      { ...gains, fold: gains.foldHash, checks: null },
      { captureId: page.captureId, plan, fold: foldMark(fold), conditions, checks: null },
    ),
    tooBusy: gains.quality.tooBusy,
  };
}
