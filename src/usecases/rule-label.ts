import { titledAddress, type PageEmbed } from '../core/embeds/page-embeds.ts';
import { matchText, type PlanRule } from '../core/treat/plan.ts';

/** How a rule is told on a screen: by its asset's address or text, an embed by its title. */
export function ruleLabel({ kind, match }: PlanRule, embeds: readonly PageEmbed[]): string {
  return kind === 'embed' ? titledAddress(embeds, matchText(match)) : matchText(match);
}
