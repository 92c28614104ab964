import type { PairsWish } from '../../core/trial/looks.ts';
import { latestYardstick } from '../../store/conditions.ts';
import { VISIT_KINDS } from '../../core/measure/visit.ts';
import { decisionsMark } from '../../core/treat/decisions.ts';
import { foldMark } from '../fold-hash.ts';
import { keepingTrial } from '../keep.ts';
import * as v from 'valibot';
import { PLAN } from '../../store/records/plan.ts';
import { Trouble } from '../../engine/errors.ts';
import { latestFold } from '../../store/proofs.ts';
import { jobKind, pageOf } from './kind.ts';
import { rehearsedPage } from './replayed-page.ts';

/** As many as it takes, unless whoever started the application asked for a number. */
function pairsWished(): PairsWish {
  const asked = Number(process.env['WISTREL_PAIRS']);
  return Number.isInteger(asked) && asked > 0 ? asked : 'until clear';
}

/** Holds the page as treated against the page as authored, after rehearsing what was not. */
export const trial = jobKind({
  id: 'trial',
  doing: 'Trial of',
  called: 'The trial',
  refreshes: 'its page',
  startedFor: 'many pages',
  input: v.nullable(
    v.object({
      idealPage: v.optional(v.string()),
      otherPlan: v.optional(v.string()),
      visit: v.optional(v.picklist(VISIT_KINDS)),
    }),
  ),
  async run(work, input) {
    const { database, conditions, carry } = work;
    // Before the plan is rehearsed for minutes.
    if (input?.idealPage && !(await latestFold(database, (await pageOf(work)).id)))
      throw new Trouble(
        'input',
        'The ideal page is made of the page’s fold CSS, and there is none yet. Make it in Fold CSS first, or leave the ideal page out. Nothing stored was changed.',
      );
    const { page, captureId, replayed, rehearsal, plan, own, decided } = await rehearsedPage(work);
    const result = await carry({
      kind: 'trial',
      ...replayed,
      yardstick: await latestYardstick(database),
      plan,
      // What is excepted from the recommended plan is not in what is tried.
      rehearsal: own ? rehearsal : { ...rehearsal, exceptions: [], gaveUp: false },
      conditions,
      pairs: pairsWished(),
      visit: input?.visit ?? 'first',
      beside: {
        idealPage: input?.idealPage !== undefined,
        ...(input?.otherPlan ? { otherPlan: PLAN.read(JSON.parse(input.otherPlan)) } : {}),
      },
    });
    const of = {
      captureId,
      plan,
      ownPlan: own,
      decided: own ? decisionsMark(decided) : null,
      foldHash: foldMark(replayed.fold),
    };
    return { keep: await keepingTrial(page.id, of, result) };
  },
});
