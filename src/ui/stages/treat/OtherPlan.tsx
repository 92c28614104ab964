'use client';
import Button from '@mui/material/Button';
import { useMutation } from '@tanstack/react-query';
import type { Plan } from '@/core/treat/plan';
import { call } from '../../api';
import type { StageProps } from '../../parts/StageFrame';

interface Held {
  file: string;
  plan: Plan;
  differences: string[];
}

/** Another plan, from a file, held against the page's: where they differ, and the way to follow it instead. */
export function OtherPlan({
  pageId,
  conditionsId,
  onPlan,
}: Pick<StageProps, 'pageId' | 'conditionsId'> & { onPlan: (plan: Plan) => void }) {
  const compare = useMutation({
    mutationFn: async (file: File): Promise<Held> => {
      const plan = readPlan(await file.text(), file.name);
      const path = `/api/pages/${pageId}/plan/differences?conditions=${conditionsId}`;
      const { differences } = await call<{ differences: string[] }>(path, { method: 'POST', body: plan });
      return { file: file.name, plan, differences };
    },
  });
  const held = compare.data;
  return (
    <details className="note">
      <summary>Compare another plan with this one</summary>
      <label style={{ display: 'block', margin: '6px 0 0' }}>
        A plan file, as Hand off and the command line write it{' '}
        <input
          type="file"
          accept=".json,application/json"
          onChange={({ target }) => {
            const [file] = target.files ?? [];
            if (file) compare.mutate(file);
          }}
        />
      </label>
      <div role="status">
        {compare.error ? <p style={{ margin: '6px 0 0' }}>{compare.error.message}</p> : null}
        {held ? (
          <>
            <p style={{ margin: '6px 0 0' }}>
              <b>{sentence(held)}</b>
            </p>
            {held.differences.map((one) => (
              <p key={one} style={{ margin: '4px 0 0', overflowWrap: 'anywhere' }}>
                {one}
              </p>
            ))}
          </>
        ) : null}
      </div>
      {held?.differences.length ? (
        <Button
          variant="outlined"
          style={{ marginTop: 6 }}
          onClick={() => {
            onPlan(held.plan);
            compare.reset();
          }}
        >
          Follow that plan
        </Button>
      ) : null}
    </details>
  );
}

function sentence({ file, differences }: Held): string {
  if (differences.length === 0) return `${file} does on this page what the plan here does.`;
  return differences.length === 1
    ? `${file} differs in one rule.`
    : `${file} differs in ${differences.length} rules.`;
}

/** A plan file's text; whether it is a plan is said by the route that it is sent to. @throws Error in plain words */
export function readPlan(text: string, name: string): Plan {
  try {
    return JSON.parse(text) as Plan;
  } catch {
    throw new Error(`${name} is no plan: it holds no JSON. Nothing was changed.`);
  }
}
