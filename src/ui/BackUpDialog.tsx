'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import { useEffect, useState } from 'react';
import { bytes } from '@/core/path/words';
import { saveBackup } from './save-backup';

type Progress =
  | { state: 'writing'; gotBytes: number; ofBytes: number }
  | { state: 'written'; name: string; gotBytes: number }
  | { state: 'failed'; why: string };

const HEADS: Record<Progress['state'], string> = {
  writing: 'Writing a backup',
  written: 'The backup is written',
  failed: 'No backup was written',
};

/** Writes a backup, says how far it is and what came of it, and can be cancelled. */
export function BackUpDialog({ onClose }: { onClose: () => void }) {
  const [progress, setProgress] = useState<Progress>({ state: 'writing', gotBytes: 0, ofBytes: 0 });
  useEffect(() => {
    const cancel = new AbortController();
    saveBackup(cancel.signal, (gotBytes, ofBytes) =>
      setProgress({ state: 'writing', gotBytes, ofBytes }),
    ).then(
      (saved) => setProgress({ state: 'written', ...saved }),
      (error: unknown) => {
        if (cancel.signal.aborted) return;
        setProgress({ state: 'failed', why: error instanceof Error ? error.message : String(error) });
      },
    );
    return () => cancel.abort();
  }, []);
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="backing-up">
      <div style={{ padding: 18 }}>
        <h2 id="backing-up" style={{ margin: '0 0 8px', fontSize: 17 }}>
          {HEADS[progress.state]}
        </h2>
        <p role={progress.state === 'failed' ? 'alert' : 'status'} style={{ margin: '0 0 14px' }}>
          {wordsOf(progress)}
        </p>
        <Button variant="outlined" onClick={onClose}>
          {progress.state === 'writing' ? 'Cancel' : 'Close'}
        </Button>
      </div>
    </Dialog>
  );
}

function wordsOf(progress: Progress): string {
  switch (progress.state) {
    case 'writing':
      return `All that is stored, as it is now: ${progress.gotBytes === 0 ? 'being copied' : `${bytes(progress.gotBytes)} of ${bytes(progress.ofBytes)}`}. Cancelled, nothing is kept of it.`;
    case 'written':
      return `${progress.name}, ${bytes(progress.gotBytes)}, was given to your browser to keep. It holds captures, those made signed in as well: keep it where nobody else gets at it. What you gave to be signed in with is not in it. To put it back, end Wistrel and use ./wistrel restore FILE.`;
    case 'failed':
      return progress.why;
  }
}
