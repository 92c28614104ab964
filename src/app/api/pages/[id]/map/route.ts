import { mapView } from '@/usecases/map-view';
import { answer, readConditions, readId, readTarget } from '../../../answer';

type Context = { params: Promise<{ id: string }> };

/** The map of a page, looked back from a paint; null where there is nothing yet. */
export const GET = (request: Request, { params }: Context) =>
  answer(async (database) =>
    Response.json(
      await mapView(
        database,
        readId((await params).id),
        await readConditions(request, database),
        readTarget(request),
      ),
    ),
  );
