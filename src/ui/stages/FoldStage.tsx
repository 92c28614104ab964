'use client';
import Button from '@mui/material/Button';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { lazy, useState } from 'react';
import { REST_WORDS } from '@/core/fold/rest-mode';
import { whyKept } from '@/core/fold/why-kept';
import { fileNameOf } from '@/core/path/names';
import { bytes, count } from '@/core/path/words';
import { downloadName } from '@/core/words/download-name';
import type { FoldView } from '@/usecases/fold-view';
import { call, useStage } from '../api';
import { when } from '../figures';
import { CodeView } from '../parts/CodeView';
import { CopyButton } from '../parts/CopyButton';
import { JobButton, StageFrame, type StageProps } from '../parts/StageFrame';
import { Budget } from './fold/Budget';
import { Decisions } from './fold/Decisions';
import { FamilyTable } from './fold/FamilyTable';
import { FoldPictures } from './fold/FoldPictures';
import { RuleList } from './fold/RuleList';
import { SheetBars } from './fold/SheetBars';
import { useFoldSettings } from './fold/useFoldSettings';
import { Later } from '../parts/Later';

const FoldSettingsDialog = lazy(() =>
  import('./fold/FoldSettingsDialog').then((one) => ({ default: one.FoldSettingsDialog })),
);

/** Fold CSS: what the fold needs, proved by its picture. */
export function FoldStage(props: StageProps) {
  const query = useStage<FoldView>(props.pageId, 'fold', props.conditionsId);
  return (
    <StageFrame
      query={query}
      empty={
        <>
          <h1>There is no fold CSS yet.</h1>
          <p>
            It is made from the page’s capture for a phone, a tablet and a laptop, and proved by comparing the
            picture above the fold at these and at widths between. The live site is not touched.
          </p>
          <div className="row">
            <JobButton kind="fold" label="Generate fold CSS" {...props} />
            <Settings {...props} />
          </div>
        </>
      }
    >
      {(data) => <Folded data={data} {...props} />}
    </StageFrame>
  );
}

/** The button that opens the settings. */
function Settings({ pageId }: StageProps) {
  const [open, setOpen] = useState(false);
  const { settings, error, save } = useFoldSettings(pageId);
  return (
    <>
      <Button variant="outlined" disabled={!settings} onClick={() => setOpen(true)}>
        Viewports, budget, rest…
      </Button>
      {open && settings ? (
        <Later>
          <FoldSettingsDialog
            settings={settings}
            error={error?.message ?? null}
            saving={save.isPending}
            onSave={(changed) => save.mutate(changed, { onSuccess: () => setOpen(false) })}
            onClose={() => {
              save.reset();
              setOpen(false);
            }}
          />
        </Later>
      ) : null}
    </>
  );
}

function Folded({ data, ...props }: StageProps & { data: FoldView }) {
  const { settings, decide, takeBack, error } = useFoldSettings(props.pageId);
  const share = (100 * data.foldCompressedBytes) / Math.max(1, data.sourceCompressedBytes);
  const between = data.viewports.filter((one) => one.between).length;
  const proved = `proved at ${data.viewports.length - between} viewports${between ? ` and ${between} widths between` : ''}.`;
  const isOld = data.stale || data.settingsChanged;
  return (
    <div className="with-side fold">
      <main className="screen">
        <h1 className="sentence">
          The fold needs <span className="mark treated">{bytes(data.foldBytes)}</span> of{' '}
          {bytes(data.sourceBytes)} CSS{data.proved ? `, ${proved}` : ': not proved.'}
          {data.stale ? ' Out of date.' : ''}
        </h1>
        {data.changes.map((change) => (
          <p className="note" key={change}>
            Since it was made: {change}
          </p>
        ))}
        {data.remarks.map((remark) => (
          <p className="note" key={remark}>
            {remark}
          </p>
        ))}
        {data.proved ? null : <Acceptance data={data} pageId={props.pageId} />}
        <div className="row">
          <JobButton kind="fold" label="Generate again" {...props} primary={isOld} />
          <Settings {...props} />
          <CopyButton text={data.css} label="Copy the CSS" primary={!isOld} />
          <Button
            variant="outlined"
            href={`data:text/css;charset=utf-8,${encodeURIComponent(data.css)}`}
            download={downloadName(props.pageName, 'fold', 'css', new Date())}
          >
            Download
          </Button>
          {data.settingsChanged ? (
            <span className="muted">Your decisions have changed since: generate it again.</span>
          ) : null}
          {error ? <span role="alert">{error.message}</span> : null}
        </div>
        <FoldPictures data={data} onDecide={decide} />
        <Late data={data} />
        {data.family ? (
          <>
            <h2>The family {data.family.name}</h2>
            <FamilyTable family={data.family} {...props} />
          </>
        ) : null}
        <h2>Why each rule is kept</h2>
        <RuleList sheets={data.sheets} onDecide={decide} />
        <Since data={data} />
        <AllOfIt data={data} />
      </main>
      <aside className="side" aria-label="Budget, sheets and decisions" tabIndex={0}>
        <h2>Budget</h2>
        <Budget data={data} onGiveUp={(one) => decide(...one.decisions)} />
        <p className="muted" style={{ margin: '0 0 6px' }}>
          The fold CSS: {bytes(data.foldCompressedBytes)} compressed of {bytes(data.sourceCompressedBytes)},{' '}
          {share.toFixed(1)} %. Made on {when(data.takenAt)} in {data.rounds}{' '}
          {data.rounds === 1 ? 'round' : 'rounds'}
          {data.shared ? ', for the whole family' : ''}.{' '}
          {data.overridden
            ? `${count(data.overridden)} declarations that others override were left out.`
            : ''}
        </p>
        <h2>Where it comes from</h2>
        <SheetBars sheets={data.sheets} onDecide={decide} />
        <h2>Your decisions</h2>
        <Decisions decisions={settings?.decisions ?? []} onDecide={decide} onTakeBack={takeBack} />
      </aside>
    </div>
  );
}

function AllOfIt({ data }: { data: FoldView }) {
  return (
    <>
      <h2>The CSS</h2>
      <CodeView
        text={data.sheets.map((sheet) => `/* ${fileNameOf(sheet.url)} */\n${lines(sheet.css)}`).join('\n')}
        language="css"
        height="300px"
        label="The fold CSS"
      />
    </>
  );
}

/** One rule a line. */
function lines(css: string): string {
  return css.replaceAll('}', '}\n').replaceAll('\n}', '}');
}

/** A set that is not proved is used by an explicit decision only. */
function Acceptance({ data, pageId }: { data: FoldView; pageId: number }) {
  const client = useQueryClient();
  const accept = useMutation({
    mutationFn: (accepted: boolean) =>
      call(`/api/pages/${pageId}/fold-acceptance`, { method: 'PUT', body: { accepted } }),
    onSettled: () => client.invalidateQueries({ queryKey: ['page', pageId] }),
  });
  return (
    <div className="row">
      <Button variant="outlined" onClick={() => accept.mutate(!data.accepted)}>
        {data.accepted ? 'No longer use it' : 'Use it although it is not proved'}
      </Button>
      <span>
        {data.accepted
          ? 'You decided to use it although it is not proved.'
          : 'It is not proved, so no treatment uses it.'}
      </span>
      {accept.error ? <span role="alert">{accept.error.message}</span> : null}
    </div>
  );
}

/** What the second proof says: the whole page after the rest has arrived. */
function Late({ data }: { data: FoldView }) {
  const { late } = data;
  if (!late)
    return (
      <p className="muted">
        An earlier version made this set: generate it again to prove what comes after it.
      </p>
    );
  const saved = late.files.reduce((sum, file) => sum + file.taken, 0);
  const unused = late.files.reduce((sum, file) => sum + file.unused, 0);
  const shift = Math.max(0, ...late.proofs.map((one) => one.layoutShift));
  return (
    <p>
      After it, late and without blocking, arrive {REST_WORDS[late.mode]}.{' '}
      {late.holds
        ? `Proved: then the whole page is as authored, and their arrival shifts nothing (layout shift ${shift.toFixed(3)}).`
        : 'Not proved: the whole page is not as authored then.'}
      {saved ? ` ${count(saved)} rules are not loaded twice.` : ''}
      {unused ? ` ${count(unused)} rules are set aside as unused.` : ''}
    </p>
  );
}

/** Rule by rule, what is otherwise than in the set before. */
function Since({ data }: { data: FoldView }) {
  const { since } = data;
  if (!since) return null;
  const { added, removed } = since;
  return (
    <>
      <h2>Since the set of {when(since.takenAt)}</h2>
      {added.length + removed.length === 0 ? (
        <p className="muted">The same rules.</p>
      ) : (
        <details>
          <summary>
            {count(added.length)} rules came, {count(removed.length)} went
          </summary>
          <ul>
            {removed.map((rule, index) => (
              <li key={`-${index}`}>
                gone: <code>{`${rule.context} ${rule.selector}`.trim()}</code>
              </li>
            ))}
            {added.map((rule, index) => (
              <li key={`+${index}`}>
                new: <code>{`${rule.context} ${rule.selector}`.trim()}</code>{' '}
                <span className="muted">{whyKept(rule)}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}
