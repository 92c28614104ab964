import { answer, readConditions, readId, readTarget, Refusal } from '../../../answer';

type Context = { params: Promise<{ id: string }> };

/** The measurement that the map is to be held against; null for the one before. */
function readAgainst(request: Request): number | null {
  const text = new URL(request.url).searchParams.get('against');
  if (text === null) return null;
  if (!/^\d{1,9}$/.test(text)) throw new Refusal(400, 'There is no measurement of that number.');
  return Number(text);
}

/** The map of a page, looked back from a paint; null where there is nothing yet. */
export const GET = (request: Request, { params }: Context) =>
  answer(async (database, read) =>
    Response.json(
      await read(
        'map',
        readId((await params).id),
        await readConditions(request, database),
        readTarget(request),
        readAgainst(request),
      ),
    ),
  );
