import { Trouble } from '@/engine/errors';
import { conditionsById } from '@/store/conditions';
import { addJob, findJob, unfinishedJob } from '@/store/jobs';
import { PLAN as PLAN_RECORD } from '@/store/records/plan';
import { jobView } from '@/usecases/jobs';
import { answer, orElse, readBody, readPage } from '../../../answer';
import { TRIAL_WITH_ARMS } from '../../../schemas';

type Context = { params: Promise<{ id: string }> };

/** Puts a trial with further arms, or of return visits, in the queue; one trial of a page at a time waits or runs. */
export const POST = (request: Request, { params }: Context) =>
  answer(async (database) => {
    const { conditionsId, idealPage, otherPlan, visit } = await readBody(request, TRIAL_WITH_ARMS);
    const page = await readPage(database, params);
    orElse(await conditionsById(database, conditionsId), `There are no conditions “${conditionsId}”.`);
    if (await unfinishedJob(database, 'trial', page.id, conditionsId))
      throw new Trouble(
        'input',
        'A trial of this page waits or runs already. Let it end, or take it out of the queue, and start this one then.',
      );
    const jobId = await addJob(database, 'trial', page.id, conditionsId, {
      name: page.name,
      ...(idealPage ? { idealPage: 'yes' } : {}),
      ...(visit === 'return' ? { visit } : {}),
      ...(otherPlan ? { otherPlan: PLAN_RECORD.write(otherPlan) } : {}),
    });
    return jobView((await findJob(database, jobId))!);
  });
