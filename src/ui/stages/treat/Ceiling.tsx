'use client';
import { RISKS, type Plan, type Risk } from '@/core/treat/plan';

const SAYS: Record<Risk, string> = {
  low: 'Only what hardly anything can go wrong with',
  medium: 'What is recommended',
  high: 'All that was found, the risky too',
};

/** A plan with all rules on up to a risk, and none beyond. */
export function upTo(plan: Plan, ceiling: Risk): Plan {
  return {
    ...plan,
    rules: plan.rules.map((rule) => ({ ...rule, on: RISKS.indexOf(rule.risk) <= RISKS.indexOf(ceiling) })),
  };
}

/** How much risk the plan takes: the three ceilings are all the presets there are. */
export function Ceiling({ plan, onChoose }: { plan: Plan; onChoose: (risk: Risk) => void }) {
  const acts = (one: Plan) => one.rules.map((rule) => rule.on || rule.treatment === 'as-authored').join();
  // Where several come to the same, the recommended one is named.
  const taken = (['medium', 'low', 'high'] as const).find((risk) => acts(plan) === acts(upTo(plan, risk)));
  return (
    <span className="row" style={{ margin: 0, gap: 4 }} role="group" aria-label="Risk taken">
      <span className="muted">Risk up to</span>
      {RISKS.map((risk) => (
        <button
          key={risk}
          type="button"
          className="box"
          title={SAYS[risk]}
          aria-pressed={risk === taken}
          onClick={() => onChoose(risk)}
        >
          {risk}
        </button>
      ))}
    </span>
  );
}
