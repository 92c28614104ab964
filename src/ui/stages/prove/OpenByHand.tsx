'use client';
import Button from '@mui/material/Button';
import { useMutation } from '@tanstack/react-query';
import { AS_IS, TREATED, type ArmId } from '@/core/trial/arms';
import { call } from '../../api';
import type { StageProps } from '../../parts/StageFrame';

/** Opens an arm on an origin of its own, to click through. */
export function OpenByHand({ pageId, conditionsId }: StageProps) {
  const open = useMutation({
    mutationFn: async (arm: ArmId) => {
      const { url } = await call<{ url: string }>(`/api/pages/${pageId}/open?conditions=${conditionsId}`, {
        method: 'POST',
        body: { arm },
      });
      return { arm, url };
    },
  });
  return (
    <>
      {[TREATED, AS_IS].map((arm) => (
        <Button key={arm} variant="outlined" disabled={open.isPending} onClick={() => open.mutate(arm)}>
          Serve {arm === TREATED ? 'the treated page' : 'the page as is'}
        </Button>
      ))}
      {open.data ? (
        <a href={open.data.url} target="_blank" rel="noreferrer">
          Open it {open.data.arm} in a window of its own
        </a>
      ) : null}
      {open.error ? <span role="alert">{open.error.message}</span> : null}
    </>
  );
}
