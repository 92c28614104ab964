'use client';
import Button from '@mui/material/Button';
import { fileNameOf } from '@/core/path/names';
import type { OwnDecision } from '@/core/words/own-decision';
import type { Offer } from '@/core/treat/offers';
import type { Match, PlanRule } from '@/core/treat/plan';
import type { TreatRow } from '@/usecases/treat-view';
import { ChangeText } from '../../parts/ChangeText';
import { Evidence } from '../../parts/Evidence';
import type { StageProps } from '../../parts/StageFrame';
import { HoldFor } from './HoldFor';
import { nameOf } from './rule-names';
import { WhyField } from './WhyField';

/** The key that gives the selected rule a treatment. */
export const TREATMENT_KEYS: Readonly<Record<string, string>> = {
  'as-authored': 'o',
  defer: 'd',
  async: 'a',
  'after-libraries': 'l',
  waits: 'w',
  'after-paint': 'p',
  'at-rest': 'z',
  'near-view': 'v',
  'merged-defer': 's',
  minified: 'n',
  merged: 'b',
  delay: 'y',
  inline: 'i',
  'own-host': 'h',
  'left-out': 'x',
  'fold-css-late': 'f',
  'fold-css-held': 'q',
  late: 't',
  'own-media': 'v',
  'imports-early': 'e',
  'modules-early': 'm',
  early: 'e',
  room: 'v',
  'early-with-room': 'b',
  'late-with-room': 'l',
  lighter: 'f',
  subset: 'f',
  swap: 's',
  preload: 'p',
  'swap-preload': 'b',
  'swap-fitted': 'f',
  'swap-preload-fitted': 'l',
  preconnect: 'c',
  'dns-prefetch': 'n',
  'hint-out': 'x',
  prefetch: 'p',
  'prefetch-on-press': 'e',
  'on-press': 'e',
};

/** What a choice changes in a rule: what has to move with it goes along, and what had to with the choice before stays. */
export function chosenOffer(
  { rule, offers }: TreatRow,
  { treatment, together, risk }: Offer,
): Partial<PlanRule> {
  const former = offers.find((one) => one.treatment === rule.treatment)?.together ?? [];
  const stays = (rule.together ?? []).filter(
    (one) => ![...former, ...together].some((other) => isSame(one, other)),
  );
  return { treatment, risk: risk.level, together: [...stays, ...together] };
}

const isSame = (a: Match, b: Match) => JSON.stringify(a) === JSON.stringify(b);

/** The evidence of a rule: its reason, what else it may be, what goes with it, what it changes. */
export function RuleDetail({
  row,
  decision,
  family,
  pageId,
  conditionsId,
  onChange,
  onSay,
  onDrop,
}: Pick<StageProps, 'pageId' | 'conditionsId'> & {
  row: TreatRow;
  /** The family that the page is of; '' for none. */
  family: string;
  /** Where it is not as recommended. */
  decision: OwnDecision | null;
  onChange: (values: Partial<PlanRule>) => void;
  onSay: (why: string) => void;
  onDrop: (decision: OwnDecision) => void;
}) {
  const { rule } = row;
  return (
    <>
      <h2>{nameOf(row)}</h2>
      <p style={{ margin: '0 0 8px' }}>{rule.reason}</p>
      {decision ? (
        <>
          <div className="row" style={{ margin: '0 0 8px' }}>
            <span style={{ flex: 1 }}>
              Recommended: <b>{decision.recommended}</b>
            </span>
            <Button variant="outlined" onClick={() => onDrop(decision)}>
              As recommended
            </Button>
          </div>
          <WhyField why={decision.why} onSay={onSay} />
          <HoldFor row={row} family={family} pageId={pageId} conditionsId={conditionsId} />
        </>
      ) : null}
      {row.rehearsed === 'breaks' && row.fault && !rule.reason.includes(row.fault) ? (
        <p className="note" style={{ margin: '0 0 8px' }}>
          {row.fault}
        </p>
      ) : null}
      {row.evidencePictures ? <Evidence pictures={row.evidencePictures} /> : null}
      {row.evidence ? (
        <p className="muted" style={{ margin: '0 0 8px' }}>
          {row.evidence}
        </p>
      ) : null}
      {row.brings.length ? (
        <p className="muted" style={{ margin: '0 0 8px' }}>
          Because of it the page asks for {row.brings.map(fileNameOf).join(', ')}.
        </p>
      ) : null}
      <h2>What it may be</h2>
      <TreatmentChoice row={row} onChange={onChange} />
      {rule.together?.length ? (
        <>
          <h2>Goes with it</h2>
          {rule.together.map((match, index) => (
            <p className="snippet" key={index}>
              {'inline' in match ? `${match.inline}…` : 'url' in match ? match.url : match.host}
            </p>
          ))}
        </>
      ) : null}
      {row.changes.length ? <h2>In the page</h2> : null}
      {row.changes.map((change, index) => (
        <div className="change" key={index}>
          <span className="muted">{change.where}</span>
          <ChangeText change={change} most={700} />
        </div>
      ))}
    </>
  );
}

/** "low risk: it runs in its order, …", and what else has to be known. */
function offerWords({ treatment, risk, note }: Offer): string {
  const said = treatment === 'as-authored' ? [] : [`${risk.level} risk: ${risk.why}`];
  return [...said, ...(note ? [note] : [])].join('; ');
}

/** Its treatments, each to be chosen or refused with the reason. */
function TreatmentChoice({
  row,
  onChange,
}: {
  row: TreatRow;
  onChange: (values: Partial<PlanRule>) => void;
}) {
  const { rule, offers } = row;
  return (
    <div role="radiogroup" aria-label="Treatment">
      {offers.map((offer) => (
        <label key={offer.treatment} className={`choice ${offer.refused ? 'refused' : ''}`}>
          <input
            type="radio"
            aria-keyshortcuts={TREATMENT_KEYS[offer.treatment]}
            name={`treatment-${rule.id}`}
            checked={rule.treatment === offer.treatment}
            disabled={offer.refused !== null}
            onChange={() => onChange(chosenOffer(row, offer))}
          />
          <span>
            <b>{offer.label}</b>{' '}
            <kbd className="key" aria-hidden>
              {TREATMENT_KEYS[offer.treatment]}
            </kbd>{' '}
            {offer.refused ? <>refused: {offer.refused}</> : offerWords(offer)}
          </span>
        </label>
      ))}
    </div>
  );
}
