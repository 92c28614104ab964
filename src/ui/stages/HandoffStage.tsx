'use client';
import Button from '@mui/material/Button';
import { bytes } from '@/core/path/words';
import type { HandoffView } from '@/usecases/handoff-view';
import { useStage } from '../api';
import { CodeView } from '../parts/CodeView';
import { CopyButton } from '../parts/CopyButton';
import { JobButton, StageFrame, type StageProps } from '../parts/StageFrame';
import { FileSection, keysOf } from './handoff/FileSection';
import { NewFiles } from './handoff/NewFiles';
import { usePutInTicks } from './handoff/put-in-ticks';

/** Hand off: what to put where in the real site. */
export function HandoffStage(props: StageProps) {
  const query = useStage<HandoffView>(props.pageId, 'handoff', props.conditionsId);
  return (
    <StageFrame
      query={query}
      empty={
        <>
          <h1>There is nothing to hand off yet.</h1>
          <p>Measure the page first, then decide on its plan.</p>
          <JobButton kind="measure" label="Measure" {...props} />
        </>
      }
    >
      {(data) => <Handoff data={data} {...props} />}
    </StageFrame>
  );
}

/** More new files than these stand in one list. */
const MOST_ALONE = 3;

function Handoff({ data, pageId, conditionsId }: StageProps & { data: HandoffView }) {
  const keys = data.files.flatMap(keysOf);
  const ticks = usePutInTicks(pageId, keys);
  const added = data.files.filter(({ what }) => what === 'new');
  const isLong = added.length > MOST_ALONE;
  return (
    <main className="screen">
      <h1 className="sentence">{headline(data)}</h1>
      <Told data={data} />
      <div className="row">
        <Button variant="contained" href={`/api/pages/${pageId}/download?conditions=${conditionsId}`}>
          Download HTML, all files and plan
        </Button>
        <span className="muted">
          HTML {bytes(data.htmlBytes.before)} → {bytes(data.htmlBytes.after)} before compression ·{' '}
          {keys.filter((key) => ticks.has(key)).length} of {keys.length} put in
        </span>
      </div>
      <div className="handoff-halves">
        <section aria-label="Changes">
          <h2>What to put in, in this order</h2>
          <OtherVersions pageId={pageId} conditionsId={conditionsId} />
          {data.files.length === 0 ? (
            <p>Nothing: no rule of the plan changes anything. Switch rules on in Treat.</p>
          ) : null}
          {isLong ? <NewFiles files={added} ticks={ticks} /> : null}
          {data.files
            .filter((file) => !isLong || !added.includes(file))
            .map((file) => (
              <FileSection key={file.key} file={file} ticks={ticks} />
            ))}
        </section>
        <section aria-label="Difference">
          <div className="row" style={{ margin: '0 0 8px' }}>
            <h2 style={{ margin: 0 }}>The difference to the original HTML</h2>
            <CopyButton text={data.difference} />
          </div>
          <CodeView
            text={data.difference}
            language="diff"
            height="620px"
            label="Difference to the original HTML"
          />
        </section>
      </div>
    </main>
  );
}

/** Files that plans of other pages make others of: reading those takes a while, so it is told once that is known. */
function OtherVersions({ pageId, conditionsId }: Pick<StageProps, 'pageId' | 'conditionsId'>) {
  const { data } = useStage<{ sentences: string[] }>(pageId, 'handoff-others', conditionsId);
  return data?.sentences.map((sentence) => (
    <p key={sentence} className="note">
      {sentence}
    </p>
  ));
}

/** "22 rules to put in: 33 changes in 4 files, and 2 new files." */
function headline({ rules, files }: HandoffView): string {
  if (files.length === 0) return `${counted(rules, 'rule')} to put in, and nothing to change in the page.`;
  const changed = files.filter(({ what }) => what !== 'new');
  const changes = changed.reduce((sum, one) => sum + one.changes.length, 0);
  const added = files.length - changed.length;
  const and = added ? `, and ${counted(added, 'new file')}` : '';
  return `${counted(rules, 'rule')} to put in: ${counted(changes, 'change')} in ${counted(changed.length, 'file')}${and}.`;
}

const counted = (count: number, what: string) => `${count} ${what}${count === 1 ? '' : 's'}`;

/** What has to be known before anything is put in. */
function Told({ data }: { data: HandoffView }) {
  return (
    <>
      <p className="note">{data.proof}</p>
      {data.notApplied.length ? (
        <p className="note">
          {data.notApplied.length}{' '}
          {data.notApplied.length === 1 ? 'rule was not applied' : 'rules were not applied'}:{' '}
          {data.notApplied.map((one) => one.why).join(' ')}
        </p>
      ) : null}
      {data.nonces.length ? (
        <p className="note">
          The page’s policy lets new styles and scripts in by a nonce, which your server makes new for each
          answer: put it in wherever {data.nonces.map((one) => `nonce="${one}"`).join(' or ')}, this
          capture’s, stands below.
        </p>
      ) : null}
      {data.decisions.length ? (
        <div className="note">
          <b>Decided by you, and written into the plan:</b>
          {data.decisions.map((one) => (
            <p key={one} style={{ margin: '4px 0 0' }}>
              {one}
            </p>
          ))}
        </div>
      ) : null}
    </>
  );
}
