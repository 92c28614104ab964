'use client';
import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import type { ToldFault } from '@/core/words/at-fault';
import type { ProveView } from '@/usecases/prove-view';
import { call } from '../../api';
import { useKey } from '../../keyboard';
import { JobButton, type StageProps } from '../../parts/StageFrame';

/** Which rules what broke comes of; each is excepted on a press, the first one on a key. */
export function AtFault({ data, ...props }: StageProps & { data: ProveView }) {
  const client = useQueryClient();
  const except = useMutation({
    mutationFn: ({ ruleId, why }: ToldFault) =>
      call<{ sentence: string }>(
        `/api/pages/${props.pageId}/exceptions?conditions=${encodeURIComponent(props.conditionsId)}`,
        { method: 'POST', body: { ruleId, why } },
      ),
    onSuccess: () => client.invalidateQueries({ queryKey: ['page', props.pageId] }),
  });
  const canExcept = data.stale.length === 0 && !except.isPending && !except.data;
  const first = data.faultsTold.find(({ ruleId }) => ruleId !== null);
  useKey('x', () => first && canExcept && except.mutate(first));
  if (data.faultsTold.length === 0) return null;
  return (
    <section aria-label="Which rule breaks it" className="note">
      {data.faultsTold.map((fault) => (
        <div key={fault.kind} className="row" style={{ margin: '2px 0' }}>
          <span style={{ flex: 1 }}>{fault.sentence}</span>
          {fault.name && canExcept ? (
            <Button variant="outlined" onClick={() => except.mutate(fault)}>
              Except {fault.name}
              {fault === first ? (
                <span className="key" style={{ marginLeft: 8 }}>
                  X
                </span>
              ) : null}
            </Button>
          ) : null}
        </div>
      ))}
      {except.data ? (
        <div className="row" role="status" style={{ margin: '6px 0 0' }}>
          <span style={{ flex: 1 }}>{except.data.sentence} Treat has it among your decisions.</span>
          <JobButton kind="trial" label="Run the trial with that" {...props} />
        </div>
      ) : null}
      {except.error ? (
        <p role="alert" style={{ margin: '6px 0 0' }}>
          {except.error.message}
        </p>
      ) : null}
    </section>
  );
}
