'use client';
import { answeredLater } from '@/core/trial/tap-answers';
import type { ProveView } from '@/usecases/prove-view';

/** Whether anything broke. */
export function CheckTable({ data: { checks } }: { data: ProveView }) {
  const picture = checks.finalPictureDiffers;
  return (
    <div className="sheet">
      <table className="plain" aria-label="Did anything break?">
        <thead>
          <tr>
            <th>Did anything break?</th>
            <th className="number">9 checks</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <td>Final picture</td>
            <td className="number">
              {picture === null
                ? 'could not be compared'
                : picture === 0
                  ? 'same'
                  : `${(picture * 100).toFixed(2)} % differ`}
            </td>
          </tr>
          <ConsoleErrors checks={checks} />
          <tr>
            <td>
              Shown first, and drawn otherwise in the end: <a href="#frames">the frames</a>
            </td>
            <td className="number">{redrawnCell(checks.firstPicture)}</td>
          </tr>
          <Requests name="Requests that fail only treated" urls={checks.failedRequests} />
          <Requests name="Requests no longer made" urls={checks.missingRequests} />
          <tr>
            <td>
              Requests without an exact answer
              {checks.unexplainedRequests.map((url) => (
                <div key={url}>
                  <code>{url}</code>
                </div>
              ))}
            </td>
            <td className="number">{checks.unexplainedRequests.length || 'none'}</td>
          </tr>
          <tr>
            <td>
              Rehearsed before, in many orders of arrival
              {checks.rehearsal?.faults.map((fault) => (
                <div key={fault}>
                  <code>{fault}</code>
                </div>
              ))}
            </td>
            <td className="number">{rehearsedCell(checks.rehearsal)}</td>
          </tr>
          <tr>
            <td>
              Taps at rest answered later
              {checks.taps.length ? (
                <>
                  : <a href="#taps">which</a>
                </>
              ) : null}
            </td>
            <td className="number">{tapsCell(checks.taps)}</td>
          </tr>
          <Deeds rehearsal={checks.rehearsal} />
        </tbody>
      </table>
    </div>
  );
}

function ConsoleErrors({ checks: { consoleErrors } }: { checks: ProveView['checks'] }) {
  const added = consoleErrors.treated.filter((text) => !consoleErrors.asIs.includes(text));
  return (
    <tr>
      <td>
        Console errors
        {added.map((text) => (
          <div key={text}>
            <code>only treated: {text}</code>
          </div>
        ))}
        {consoleErrors.asIs.map((text) => (
          <div key={text} className="muted">
            <code>as is: {text}</code>
          </div>
        ))}
      </td>
      <td className="number">
        {added.length
          ? `${added.length} new`
          : consoleErrors.treated.length
            ? `same ${consoleErrors.treated.length}`
            : 'none'}
      </td>
    </tr>
  );
}

/** Taps, keys, scrolling: a person sees what was tried. */
function Deeds({ rehearsal }: { rehearsal: ProveView['checks']['rehearsal'] }) {
  const deeds = rehearsal?.deeds ?? [];
  const undecided = deeds.filter((one) => one.undecided !== null).length;
  return (
    <tr>
      <td>
        Done on it as a visitor would
        {deeds.length ? (
          <>
            : <a href="#deeds">what, and what it came to</a>
          </>
        ) : null}
      </td>
      <td className="number">
        {deeds.length === 0
          ? 'nothing'
          : undecided
            ? `${undecided} of ${deeds.length} undecided`
            : `same in all ${deeds.length}`}
      </td>
    </tr>
  );
}

function redrawnCell(picture: ProveView['checks']['firstPicture']): string {
  if (!picture) return 'too few pairs';
  const [asIs, treated] = [picture.asIs, picture.treated].map((share) => Math.round(share * 100));
  return `${treated} % of the screen, as is ${asIs} %`;
}

function tapsCell(taps: ProveView['checks']['taps']): string {
  if (taps.length === 0) return 'none tried';
  const late = answeredLater(taps).length;
  return late ? `${late} of ${taps.length}` : `none of ${taps.length}`;
}

function rehearsedCell(rehearsal: ProveView['checks']['rehearsal']): string {
  if (!rehearsal) return 'not rehearsed';
  const { faults, held, of } = rehearsal;
  if (faults.length) return `${faults.length} at fault`;
  if (held === 0) return 'not rehearsed';
  return held === of ? `same in all ${of}` : `same in ${held} of ${of}`;
}

function Requests({ name, urls }: { name: string; urls: readonly string[] }) {
  return (
    <tr>
      <td>
        {name}
        {urls.map((url) => (
          <div key={url}>
            <code>{url}</code>
          </div>
        ))}
      </td>
      <td className="number">{urls.length || 'none'}</td>
    </tr>
  );
}
