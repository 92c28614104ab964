import { BUILT_IN_CONDITIONS } from '@/core/measure/conditions';
import { latestYardstick, ownConditions, saveConditions } from '@/store/conditions';
import { answer, readBody, Refusal } from '../answer';
import { CONDITIONS } from '../schemas';

export const dynamic = 'force-dynamic';

/** All conditions, and how fast this machine is known to be. */
export const GET = () =>
  answer(async (database) => ({
    builtIn: BUILT_IN_CONDITIONS,
    own: await ownConditions(database),
    yardstick: await latestYardstick(database),
  }));

/** Saves conditions of the user's own; the built-in ones stay as they are. */
export const PUT = (request: Request) =>
  answer(async (database) => {
    const conditions = await readBody(request, CONDITIONS);
    if (BUILT_IN_CONDITIONS.some((one) => one.id === conditions.id))
      throw new Refusal(400, `“${conditions.name}” is built in. Copy it under another name to change it.`);
    await saveConditions(database, conditions);
    return conditions;
  });
