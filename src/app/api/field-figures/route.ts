import { readFieldFile, type FieldFile } from '@/core/field/field-figures';
import { keepFieldFigures } from '@/store/field-figures';
import { answer, readBody, Refusal } from '../answer';
import { FIELD_FILE } from '../schemas';

/** Takes a file of visitors' percentiles; what of it cannot be read is left out and named. */
export const POST = (request: Request) =>
  answer(async (database) => {
    const { text } = await readBody(request, FIELD_FILE);
    let file: FieldFile;
    try {
      file = readFieldFile(text);
    } catch (error) {
      throw new Refusal(400, error instanceof Error ? error.message : String(error));
    }
    await database.transaction((queries) => keepFieldFigures(queries, file.figures));
    return {
      figures: file.figures.length,
      pages: new Set(file.figures.map((one) => one.url)).size,
      leftOut: file.leftOut,
    };
  });
