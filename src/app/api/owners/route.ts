import { nameOwner } from '@/store/owners';
import { answer, readBody } from '../answer';
import { OWNER } from '../schemas';

/** Names the owner of domains, so that findings speak of it as one; an empty name undoes it. */
export const PUT = (request: Request) =>
  answer(async (database) => {
    const { domains, name } = await readBody(request, OWNER);
    await database.transaction((queries) => nameOwner(queries, domains, name));
    return { domains, name };
  });
