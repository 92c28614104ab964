'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import type { FoldDecision } from '@/core/fold/decisions';
import { decisionInWords } from '@/core/words/fold-decision';

/** What the user always keeps or leaves out, and a way to add to it. */
export function Decisions({
  decisions,
  onDecide,
  onTakeBack,
}: {
  decisions: readonly FoldDecision[];
  onDecide: (decision: FoldDecision) => void;
  onTakeBack: (decision: FoldDecision) => void;
}) {
  const [verb, setVerb] = useState<FoldDecision['verb']>('keep');
  const [what, setWhat] = useState('');
  const add = () => {
    const text = what.trim();
    if (!text) return;
    onDecide({ verb, by: /^https?:|\.css$/i.test(text) ? 'sheet' : 'selector', what: text });
    setWhat('');
  };
  return (
    <>
      {decisions.length ? (
        <ul aria-label="Your decisions">
          {decisions.map((one) => (
            <li key={`${one.verb} ${one.by} ${one.what}`}>
              {decisionInWords(one)}{' '}
              <Button onClick={() => onTakeBack(one)} aria-label={`Take back: ${decisionInWords(one)}`}>
                Take back
              </Button>
            </li>
          ))}
        </ul>
      ) : (
        <p className="muted">
          None yet. What you say here stays said when the set is made again: by selector, by stylesheet, or by
          pointing at an element of the picture.
        </p>
      )}
      <form
        className="row"
        onSubmit={(event) => {
          event.preventDefault();
          add();
        }}
      >
        <label>
          Always{' '}
          <select
            className="small-field"
            style={{ width: 'auto' }}
            value={verb}
            onChange={(event) => setVerb(event.target.value as FoldDecision['verb'])}
          >
            <option value="keep">keep</option>
            <option value="leave-out">leave out</option>
          </select>
        </label>
        <input
          className="small-field"
          style={{ width: 320 }}
          aria-label="Selector, or stylesheet.css"
          placeholder="Selector, or stylesheet.css"
          name="decision"
          value={what}
          onChange={(event) => setWhat(event.target.value)}
        />
        <Button type="submit" variant="outlined" disabled={!what.trim()}>
          Add
        </Button>
      </form>
    </>
  );
}
