import { bytes } from '@/core/path/words';
import type { ChangeToPutIn, FileToPutIn } from '@/core/treat/put-in';
import { ChangeText } from '../../parts/ChangeText';
import { CopyButton } from '../../parts/CopyButton';
import type { Ticks } from './put-in-ticks';

const WHAT: Record<FileToPutIn['what'], string> = {
  new: 'new: put it there first, from the archive',
  changed: 'changed: as below, or the whole file from the archive',
  page: 'the page itself, from its top down',
};
/** Fold CSS is longer than anybody reads here; copying takes all of it. */
const MOST_SHOWN = 1_500;

/** One file of the site, with what is done to it as a list to tick off. */
export function FileSection({ file, ticks }: { file: FileToPutIn; ticks: Ticks }) {
  const keys = keysOf(file);
  const done = keys.filter((key) => ticks.has(key)).length;
  return (
    <section className="put-in" aria-label={file.name}>
      <h3>
        <label>
          <input
            type="checkbox"
            checked={done === keys.length}
            onChange={(event) => ticks.set(keys, event.target.checked)}
          />
          <code>{file.name}</code>
        </label>
        <span className="muted">
          {WHAT[file.what]} · {bytes(file.bytes)}
          {file.changes.length > 1 ? ` · ${done} of ${file.changes.length} put in` : ''}
        </span>
      </h3>
      {file.what === 'new' ? <p className="muted">Taken back: delete it, once nothing asks for it.</p> : null}
      {file.changes.map((change) => (
        <ChangeItem key={change.key} change={change} ticks={ticks} />
      ))}
    </section>
  );
}

/** What is ticked off of a file: its changes, or all of it. */
export function keysOf({ key, changes }: FileToPutIn): string[] {
  return changes.length ? changes.map((one) => one.key) : [key];
}

function ChangeItem({ change, ticks }: { change: ChangeToPutIn; ticks: Ticks }) {
  const isDone = ticks.has(change.key);
  return (
    <div className="change">
      <div className="row">
        <label>
          <input
            type="checkbox"
            checked={isDone}
            onChange={(event) => ticks.set([change.key], event.target.checked)}
          />
          <b>{change.title}</b>
        </label>
        {change.at === null ? null : <span className="muted">{change.where}</span>}
        <span className="gap" />
        <CopyButton text={change.after} />
      </div>
      {isDone ? null : <ChangeText change={change} most={MOST_SHOWN} />}
      <details>
        <summary>Why, and the way back</summary>
        {change.reason} {change.wayBack}
        {change.header === null ? null : <AsHeader header={change.header} />}
      </details>
    </div>
  );
}

/** The same as a header: for who can change how the page is answered, and not its head. */
function AsHeader({ header }: { header: string }) {
  return (
    <div>
      Or, in the place of the tag, as a header of the page’s answer, which a server may also send ahead as
      early hints (never both; it is the tag that was tried): <code>{header}</code>{' '}
      <CopyButton text={header} />
    </div>
  );
}
