'use client';
import Button from '@mui/material/Button';
import { decisionSentence, type OwnDecision } from '@/core/words/own-decision';

/** The user's own plan held against the recommended one: where they differ, why, and the way back for each. */
export function OwnDecisions({
  decisions,
  onOpen,
  onDrop,
}: {
  decisions: readonly OwnDecision[];
  onOpen: (ruleId: string) => void;
  onDrop: (decision: OwnDecision) => void;
}) {
  return (
    <details className="note" open={decisions.length <= 3}>
      <summary>
        <b>
          {decisions.length === 1
            ? 'One rule is as you decided, not as recommended.'
            : `${decisions.length} rules are as you decided, not as recommended.`}
        </b>
      </summary>
      {decisions.map((one) => (
        <div key={one.ruleId} className="row" style={{ margin: '4px 0 0' }}>
          <span style={{ flex: 1, minWidth: 0, overflowWrap: 'anywhere' }}>{decisionSentence(one)}</span>
          <Button variant="outlined" onClick={() => onOpen(one.ruleId)}>
            {one.why ? 'Open' : 'Say why'}
          </Button>
          <Button variant="outlined" onClick={() => onDrop(one)}>
            As recommended
          </Button>
        </div>
      ))}
    </details>
  );
}
