import { fileNameOf, hostOf } from '@/core/path/names';
import { matchText, type PlanRule } from '@/core/treat/plan';
import type { TreatRow } from '@/usecases/treat-view';

/** The rule that a way from the map leads to: the asset's own, that of what brings it, or that of its host. */
export function rowAbout(
  rows: readonly TreatRow[],
  url: string,
): { row: TreatRow | null; words: string | null } {
  const name = fileNameOf(url);
  const matches = (row: TreatRow) =>
    [row.rule.match, ...(row.rule.together ?? [])].some((match) => 'url' in match && match.url === url);
  const own = rows.find(matches);
  if (own) return { row: own, words: null };
  // Of those that bring it the nearest one brings least.
  const [bringer] = rows
    .filter((row) => row.brings.includes(url))
    .sort((a, b) => a.brings.length - b.brings.length);
  if (bringer)
    return {
      row: bringer,
      words: `${name} is asked for because of ${nameOf(bringer)}, and is treated with it.`,
    };
  const host = rows.find(({ rule }) => 'host' in rule.match && hostOf(rule.match.host) === hostOf(url));
  if (host) return { row: host, words: `No rule is about ${name} itself; this one is about its host.` };
  return { row: null, words: `No rule of this plan is about ${name}.` };
}

/** How a rule is called: as its label says where that is no address, else by the file's name or its host. */
export function nameOf({
  label,
  rule,
}: Pick<TreatRow, 'label'> & { rule: Pick<PlanRule, 'kind' | 'match'> }): string {
  // What a page calls something may look like an address.
  if (label !== matchText(rule.match) || 'inline' in rule.match) return label;
  return rule.kind === 'host' ? hostOf(label) : fileNameOf(label);
}
