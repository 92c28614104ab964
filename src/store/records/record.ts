import * as v from 'valibot';
import { jsonOf } from '../storable.ts';

/** The key under which a record says its version. */
const VERSION = 'recordVersion';

type Stored = Record<string, unknown>;

/**
 * What the store keeps as JSON of one kind. Each record carries its version, is checked when it is read, and is
 * brought up to date here, so that nobody else knows of earlier forms.
 */
export interface RecordKind<T> {
  /** A record as it is kept. */
  write(value: T): string;
  /** @throws UnreadableRecord in plain words */
  read(stored: unknown): T;
}

export class UnreadableRecord extends Error {
  constructor(what: string, why: string, todo: string) {
    super(`${what} that is stored cannot be read: ${why}. ${todo} What else is stored is kept.`);
    this.name = 'UnreadableRecord';
  }
}

/**
 * @param upgraders each brings a record of one version to the next, the first from version 1; records of before there
 *   were versions are of version 1
 * @param shape what a record has to have for the rest of the application to work with it
 */
export function recordKind<T extends object>(kind: {
  /** "The capture". */
  what: string;
  /** What the user can do where it cannot be read. */
  todo: string;
  upgraders: readonly ((before: Stored) => Stored)[];
  shape: v.GenericSchema;
}): RecordKind<T> {
  const newest = kind.upgraders.length + 1;
  return {
    write: (value) => jsonOf({ ...value, [VERSION]: newest }),
    read(stored) {
      if (!isRecord(stored)) throw new UnreadableRecord(kind.what, 'it is no record', kind.todo);
      const { [VERSION]: said = 1, ...data } = stored;
      const version = Number(said);
      if (!(version >= 1 && version <= newest))
        throw new UnreadableRecord(kind.what, 'a later version of Wistrel stored it', kind.todo);
      let now: Stored = data;
      for (const upgrade of kind.upgraders.slice(version - 1)) now = upgrade(now);
      const checked = v.safeParse(kind.shape, now);
      if (!checked.success) {
        const [issue] = checked.issues;
        throw new UnreadableRecord(
          kind.what,
          `“${v.getDotPath(issue) ?? ''}” is not as it has to be`,
          kind.todo,
        );
      }
      return now as T;
    },
  };
}

export function isRecord(value: unknown): value is Stored {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}
