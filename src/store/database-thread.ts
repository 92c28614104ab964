import { cpSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { parentPort, workerData, type MessagePort } from 'node:worker_threads';
import { PGlite, type Transaction } from '@electric-sql/pglite';
import type { FromDatabase, ToDatabase } from './database-client.ts';
import { SealBox } from './seal-box.ts';

/** The thread that holds the embedded database, and answers every line that leads to it. */
const BYTEA = 17;
const { folder } = workerData as { folder: string };
const seals = new SealBox(join(dirname(folder), 'keys'));

const pglite = await PGlite.create({
  dataDir: folder,
  // The driver's own text conversion of bytea is slow by a factor of ten.
  parsers: { [BYTEA]: (value: string) => ofItsOwn(Buffer.from(value.slice(2), 'hex')) },
  serializers: {
    [BYTEA]: (value: Uint8Array) =>
      `\\x${Buffer.from(value.buffer, value.byteOffset, value.byteLength).toString('hex')}`,
  },
});

serve(parentPort!);

interface Session {
  inner: Transaction;
  commit(): void;
  rollBack(): void;
  /** Resolves when what was asked has taken effect. */
  ended: Promise<void>;
}

const ROLLED_BACK = new Error('rolled back');

/** Answers one line; what it has begun and not ended when it closes is rolled back. */
function serve(line: MessagePort): void {
  const sessions = new Map<number, Session>();
  const reply = (message: FromDatabase, moved: ArrayBuffer[] = []) => line.postMessage(message, moved);
  line.on('message', (message: ToDatabase) => {
    answer(sessions, message)
      .then((rows) => reply({ id: message.id, rows }, buffersOf(rows)))
      .catch((error: unknown) =>
        reply({ id: message.id, error: error instanceof Error ? error.message : String(error) }),
      );
  });
  line.on('close', () => {
    for (const session of sessions.values()) session.rollBack();
  });
}

async function answer(sessions: Map<number, Session>, message: ToDatabase): Promise<unknown[]> {
  switch (message.type) {
    case 'query': {
      const { session, sql, params } = message;
      const on = session === null ? pglite : sessions.get(session)!.inner;
      return (await on.query(sql, params)).rows;
    }
    case 'begin':
      sessions.set(message.session, await begin());
      return [];
    case 'commit':
    case 'roll back': {
      const session = sessions.get(message.session)!;
      sessions.delete(message.session);
      if (message.type === 'commit') session.commit();
      else session.rollBack();
      await session.ended;
      return [];
    }
    case 'connect':
      serve(message.port);
      return [];
    case 'copy':
      await pglite.query('CHECKPOINT');
      // At one go, and with nothing under way: what is copied is of one moment.
      await pglite.runExclusive(async () => cpSync(folder, message.to, { recursive: true }));
      return [];
    case 'seal':
      return [{ value: seals.seal(message.text) }];
    case 'open seal':
      return [{ value: seals.open(message.sealed) }];
    case 'forget seals':
      for (const one of message.sealed) seals.forget(one);
      return [];
    case 'close':
      await pglite.close();
      return [];
  }
}

/** Opens a transaction that lasts until it is told how to end. */
function begin(): Promise<Session> {
  return new Promise((started, failed) => {
    const ended = pglite
      .transaction(
        (inner) =>
          new Promise<void>((commit, reject) =>
            // After this turn, when `ended` is there.
            queueMicrotask(() => started({ inner, commit, rollBack: () => reject(ROLLED_BACK), ended })),
          ),
      )
      .catch((error: unknown) => {
        if (error === ROLLED_BACK) return;
        failed(error as Error);
        throw error;
      });
    ended.catch(() => undefined);
  });
}

/** Bytes in a buffer of their own: of a shared one all would be sent. */
function ofItsOwn(bytes: Buffer): Uint8Array {
  return bytes.byteLength === bytes.buffer.byteLength ? bytes : new Uint8Array(bytes);
}

/** The buffers of what is answered: they are handed over, not copied. */
function buffersOf(rows: readonly unknown[]): ArrayBuffer[] {
  const buffers = new Set<ArrayBuffer>();
  for (const row of rows)
    for (const value of Object.values(row as object))
      if (value instanceof Uint8Array && value.byteLength > 0) buffers.add(value.buffer as ArrayBuffer);
  return [...buffers];
}
