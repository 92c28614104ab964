'use client';
import Button from '@mui/material/Button';
import { bytes } from '@/core/path/words';
import type { HandoffView } from '@/usecases/handoff-view';
import { useStage } from '../api';
import { ChangeText } from '../parts/ChangeText';
import { CodeView } from '../parts/CodeView';
import { CopyButton } from '../parts/CopyButton';
import { JobButton, StageFrame, type StageProps } from '../parts/StageFrame';

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

function Handoff({ data, pageId, conditionsId }: StageProps & { data: HandoffView }) {
  return (
    <main className="screen">
      <h1 className="sentence">
        {data.changes.length} changes to put in, {data.files.length}{' '}
        {data.files.length === 1 ? 'file' : 'files'} besides the HTML.
      </h1>
      <Told data={data} />
      <div className="row">
        <Button variant="contained" href={`/api/pages/${pageId}/download?conditions=${conditionsId}`}>
          Download HTML, CSS, scripts and plan
        </Button>
        <span className="muted">
          HTML {bytes(data.htmlBytes.before)} → {bytes(data.htmlBytes.after)} before compression
        </span>
      </div>
      <Files files={data.files} />
      <div style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1fr)', gap: 16 }}>
        <section aria-label="Changes">
          <h2 style={{ fontSize: 15 }}>Each change, where it goes</h2>
          {data.changes.map((change, index) => (
            <div className="change" key={index}>
              <div className="row" style={{ margin: 0 }}>
                <b>{change.title}</b> <span className="muted">{change.where}</span>
                <span style={{ flex: 1 }} />
                <CopyButton text={change.after} />
              </div>
              <ChangeText change={change} most={1_500} />
            </div>
          ))}
        </section>
        <section aria-label="Difference">
          <div className="row">
            <h2 style={{ fontSize: 15, margin: 0 }}>The difference to the original HTML</h2>
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
          The page’s policy lets new styles and scripts in by a nonce, which your server makes anew for each
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

/** The files that go beside the HTML. */
function Files({ files }: { files: HandoffView['files'] }) {
  if (files.length === 0) return null;
  return (
    <div className="sheet" style={{ marginBottom: 12 }}>
      <table className="plain">
        <thead>
          <tr>
            <th>File</th>
            <th>What</th>
            <th className="number">Size</th>
          </tr>
        </thead>
        <tbody>
          {files.map((file) => (
            <tr key={file.url}>
              <td>
                <code>{file.url}</code>
              </td>
              <td>{file.isNew ? 'new' : 'changed'}</td>
              <td className="number">{bytes(file.bytes)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
