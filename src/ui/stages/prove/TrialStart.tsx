'use client';
import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { VisitKind } from '@/core/measure/visit';
import type { Plan } from '@/core/treat/plan';
import { call, useJobs } from '../../api';
import { jobWords, type StageProps } from '../../parts/StageFrame';

/** What is said of a trial that is not the plain one. */
interface TrialWish {
  visit: VisitKind;
  idealPage?: boolean;
  otherPlan?: Plan | null;
}

/** A button that starts a trial of its own kind, and says when one waits or runs. */
export function TrialStart({
  label,
  primary,
  disabled = false,
  wish,
  pageId,
  conditionsId,
}: StageProps & {
  label: string;
  primary: boolean;
  disabled?: boolean;
  /** Asked for when it is pressed. */
  wish: () => TrialWish | Promise<TrialWish>;
}) {
  const client = useQueryClient();
  const start = useMutation({
    mutationFn: async () =>
      call(`/api/pages/${pageId}/trial`, { method: 'POST', body: { conditionsId, ...(await wish()) } }),
    onSettled: () => client.invalidateQueries({ queryKey: ['jobs'] }),
  });
  const job = useJobs().find(
    ({ kind, pageId: of, state }) =>
      kind === 'trial' && of === pageId && (state === 'waiting' || state === 'running'),
  );
  return (
    <>
      <Button
        variant={primary ? 'contained' : 'outlined'}
        disabled={disabled || job !== undefined || start.isPending}
        onClick={() => start.mutate()}
      >
        {job ? jobWords(job) : label}
      </Button>
      {start.error ? (
        <p role="alert" style={{ margin: '6px 0 0' }}>
          {start.error.message}
        </p>
      ) : null}
    </>
  );
}
