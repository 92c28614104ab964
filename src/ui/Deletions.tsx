'use client';
import Button from '@mui/material/Button';
import { useQueryClient } from '@tanstack/react-query';
import {
  createContext,
  useCallback,
  useContext,
  useEffect,
  useMemo,
  useRef,
  useState,
  type ReactNode,
} from 'react';
import { call } from './api';
import './deletions.css';

/** Something to be deleted: what is said of it, and the route that does it. */
export interface Deletion {
  /** By which lists leave it out: "pages/12". */
  keys: readonly string[];
  /** "Berths is deleted, with its captures". */
  words: string;
  path: string;
  /** What the route is told besides. */
  body?: unknown;
}

/** So long it can be taken back: until then nothing is deleted. */
const TAKEN_BACK_WITHIN_MS = 7_000;

interface Deletions {
  /** What is not shown any more. */
  gone: ReadonlySet<string>;
  remove: (deletion: Deletion) => void;
}

const Context = createContext<Deletions>({ gone: new Set(), remove: () => undefined });

/** What is deleted, and how to delete something: it goes at once, and can be taken back for some seconds. */
export const useDeletions = () => useContext(Context);

/** Carries deletions out once they can no longer be taken back, or the window is left. */
export function DeletionsProvider({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const [waiting, setWaiting] = useState<Deletion | null>(null);
  const [gone, setGone] = useState<ReadonlySet<string>>(new Set());
  const [failed, setFailed] = useState<string | null>(null);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const last = useRef<Deletion | null>(null);

  const forget = useCallback((keys: readonly string[]) => {
    setGone((now) => new Set([...now].filter((one) => !keys.includes(one))));
  }, []);
  const carryOut = useCallback(async () => {
    const deletion = last.current;
    if (!deletion) return;
    clearTimeout(timer.current);
    last.current = null;
    setWaiting(null);
    try {
      await call(deletion.path, { method: 'DELETE', body: deletion.body, keepalive: true });
      await client.invalidateQueries();
    } catch (error) {
      setFailed(error instanceof Error ? error.message : String(error));
    }
    forget(deletion.keys);
  }, [client, forget]);
  const remove = useCallback(
    (deletion: Deletion) => {
      void carryOut();
      last.current = deletion;
      setFailed(null);
      setWaiting(deletion);
      setGone((now) => new Set([...now, ...deletion.keys]));
      timer.current = setTimeout(() => void carryOut(), TAKEN_BACK_WITHIN_MS);
    },
    [carryOut],
  );
  const takeBack = () => {
    clearTimeout(timer.current);
    last.current = null;
    if (waiting) forget(waiting.keys);
    setWaiting(null);
  };
  useEffect(() => {
    const leaving = () => void carryOut();
    addEventListener('pagehide', leaving);
    return () => removeEventListener('pagehide', leaving);
  }, [carryOut]);

  return (
    <Context value={useMemo(() => ({ gone, remove }), [gone, remove])}>
      {children}
      {waiting ? (
        <div className="deleted row" role="status">
          <span>{waiting.words}.</span>
          {/* What was pressed is gone: the way back is next. */}
          <Button variant="outlined" autoFocus onClick={takeBack}>
            Undo
          </Button>
        </div>
      ) : failed ? (
        <div className="deleted row" role="alert">
          <span>{failed}</span>
          <Button variant="outlined" onClick={() => setFailed(null)}>
            Put away
          </Button>
        </div>
      ) : null}
    </Context>
  );
}
