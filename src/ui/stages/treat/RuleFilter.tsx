'use client';
import type { Party } from '@/core/path/party';
import type { RuleKind } from '@/core/treat/plan';
import { FindField } from '../../parts/FindField';
import type { TreatRow } from '@/usecases/treat-view';

/** Which rules the table shows. */
export interface RulesShown {
  /** Part of an address or of an inline script's text. */
  find: string;
  kinds: ReadonlySet<RuleKind>;
  /** Whose they are; null for all. */
  party: Party | null;
  /** Only what holds or crowds the first paint. */
  beforePaint: boolean;
}

export const KIND_MARKS: readonly (readonly [RuleKind, string])[] = [
  ['stylesheet', 'CSS'],
  ['script', 'JS'],
  ['font', 'FONT'],
  ['font-file', 'CUT'],
  ['image', 'IMG'],
  ['image-file', 'FILE'],
  ['embed', 'EMB'],
  ['data', 'DATA'],
  ['host', 'HOST'],
  ['next', 'NEXT'],
];

export const ALL_RULES: RulesShown = {
  find: '',
  kinds: new Set(KIND_MARKS.map(([kind]) => kind)),
  party: null,
  beforePaint: false,
};

export function shownRules(
  rows: readonly TreatRow[],
  { find, kinds, party, beforePaint }: RulesShown,
): TreatRow[] {
  const word = find.toLowerCase();
  return rows.filter(
    ({ rule, label, hold, party: whose }) =>
      kinds.has(rule.kind) &&
      (party === null || whose === party) &&
      (!beforePaint || hold === 'holds' || hold === 'crowds') &&
      label.toLowerCase().includes(word),
  );
}

/** Finds rules by name, hides kinds that there are and parties, and leaves out what the first paint does not wait for. */
export function RuleFilter({
  rows,
  shown,
  onShow,
}: {
  rows: readonly TreatRow[];
  shown: RulesShown;
  onShow: (shown: RulesShown) => void;
}) {
  const there = new Set(rows.map(({ rule }) => rule.kind));
  const toggle = (kind: RuleKind) => {
    const kinds = new Set(shown.kinds);
    if (!kinds.delete(kind)) kinds.add(kind);
    onShow({ ...shown, kinds });
  };
  return (
    <>
      <FindField
        label="Find a rule by name"
        value={shown.find}
        onFind={(find) => onShow({ ...shown, find })}
      />
      <span className="row" style={{ margin: 0, gap: 3 }} role="group" aria-label="Kinds shown">
        {KIND_MARKS.filter(([kind]) => there.has(kind)).map(([kind, mark]) => (
          <button
            key={kind}
            type="button"
            className={`kind toggle ${shown.kinds.has(kind) ? '' : 'off'}`}
            aria-pressed={shown.kinds.has(kind)}
            aria-label={`${mark}: show ${kind === 'next' ? 'what next pages need' : `${kind}s`}`}
            onClick={() => toggle(kind)}
          >
            {mark}
          </button>
        ))}
      </span>
      <select
        className="small-field"
        style={{ width: 'auto' }}
        aria-label="Whose rules are shown"
        value={shown.party ?? ''}
        onChange={({ target: { value } }) =>
          onShow({ ...shown, party: value === 'first' || value === 'third' ? value : null })
        }
      >
        <option value="">own and others’</option>
        <option value="first">one’s own</option>
        <option value="third">third parties’</option>
      </select>
      <button
        type="button"
        className="box"
        aria-pressed={shown.beforePaint}
        onClick={() => onShow({ ...shown, beforePaint: !shown.beforePaint })}
      >
        {shown.beforePaint ? 'Show all' : 'Only before first paint'}
      </button>
    </>
  );
}
