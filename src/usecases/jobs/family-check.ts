import { matchText } from '../../core/treat/plan.ts';
import type { FamilyPage } from '../../core/words/family-check.ts';
import { Trouble } from '../../engine/errors.ts';
import { keepFamilyCheck } from '../../store/family-checks.ts';
import { ownChecksOf } from '../../store/own-checks.ts';
import { latestFold } from '../../store/proofs.ts';
import type { Page } from '../../store/sites.ts';
import { siblingsOf } from '../family-check.ts';
import { measuredPage } from '../stored-page.ts';
import { jobKind, NO_INPUT, pageOf, type Work } from './kind.ts';
import { rehearsedPage } from './replayed-page.ts';

/** Rehearses a page's plan on the other pages of its family: a template is theirs as well. */
export const familyCheck = jobKind({
  id: 'family-check',
  doing: 'Trying the family’s other pages with the plan of',
  called: 'Trying the plan on the family',
  refreshes: 'its page',
  startedFor: 'a page',
  input: NO_INPUT,
  async run(work) {
    const { database, conditions } = work;
    // Before the page's own plan is rehearsed for a minute: there may be nothing to try it on.
    const { measured } = await siblingsOf(database, await pageOf(work), conditions.id);
    if (measured.length === 0)
      throw new Trouble(
        'input',
        `No other page of its family was measured under ${conditions.name}. Measure one first. Nothing stored was changed.`,
      );
    const { page, plan } = await rehearsedPage(work);
    const pages: FamilyPage[] = [];
    for (const one of measured) {
      const found = await tryOn(work, one, plan);
      if (found) pages.push(found);
    }
    const check = { takenAt: new Date().toISOString(), pages, plan };
    return { keep: (queries) => keepFamilyCheck(queries, page.id, conditions.id, check) };
  },
});

/** What a plan comes to on one page; null where that is not measured any more. */
async function tryOn(
  { database, conditions, carryFor, read }: Work,
  { id, name }: Page,
  plan: Parameters<typeof keepFamilyCheck>[3]['plan'],
): Promise<FamilyPage | null> {
  const measured = await measuredPage(database, id, conditions.id);
  const there = measured && (await read('plan on page', id, conditions.id, plan));
  if (!measured || !there) return null;
  const { captureId, capture, bodies, state, requests } = measured;
  const { rehearsal } = await carryFor(name)({
    kind: 'rehearse',
    pageName: name,
    capture,
    bodies,
    state,
    requests,
    plan: there.plan,
    fold: await latestFold(database, id),
    checks: await ownChecksOf(database, id),
    quick: true,
  });
  const whatOf = (ruleId: string) => matchText(there.plan.rules.find((one) => one.id === ruleId)!.match);
  return {
    pageId: id,
    captureId,
    name,
    rules: there.plan.rules.length,
    refused: there.refused,
    withoutFold: there.withoutFold,
    faults: rehearsal.exceptions.map(({ ruleId, evidence }) => ({ what: whatOf(ruleId), evidence })),
    gaveUp: rehearsal.gaveUp,
    held: rehearsal.held,
  };
}
