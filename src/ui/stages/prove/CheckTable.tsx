'use client';
import type { ProveView } from '@/usecases/prove-view';

/** Whether anything broke. */
export function CheckTable({ data: { checks } }: { data: ProveView }) {
  const added = checks.consoleErrors.treated.filter((text) => !checks.consoleErrors.asIs.includes(text));
  const picture = checks.finalPictureDiffers;
  return (
    <div className="sheet">
      <table className="plain">
        <thead>
          <tr>
            <th>Did anything break?</th>
            <th className="number">7 checks</th>
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
          <tr>
            <td>
              Console errors
              {added.map((text) => (
                <div key={text}>
                  <code>only treated: {text}</code>
                </div>
              ))}
              {checks.consoleErrors.asIs.map((text) => (
                <div key={text} className="muted">
                  <code>as is: {text}</code>
                </div>
              ))}
            </td>
            <td className="number">
              {added.length
                ? `${added.length} new`
                : checks.consoleErrors.treated.length
                  ? `same ${checks.consoleErrors.treated.length}`
                  : 'none'}
            </td>
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
          <Deeds rehearsal={checks.rehearsal} />
        </tbody>
      </table>
    </div>
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
