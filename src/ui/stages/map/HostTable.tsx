'use client';
import { bytes, ms } from '@/core/path/words';
import type { OutsideHost } from '@/core/path/outside-hosts';
import { askedWords, connectionWords, hostsText, sortsWords } from '@/core/words/hosts';
import { CopyButton } from '../../parts/CopyButton';

/** What each of other hosts is asked for, and what connecting to it costs. */
export function HostTable({ hosts }: { hosts: readonly OutsideHost[] }) {
  return (
    <>
      <table className="plain">
        <thead>
          <tr>
            <th>Host</th>
            <th>Asked for</th>
            <th className="number">Wire</th>
            <th className="number">First at</th>
            <th className="number">Connections</th>
            <th>In the page</th>
          </tr>
        </thead>
        <tbody>
          {hosts.map((host) => (
            <tr key={host.origin}>
              <td style={{ overflowWrap: 'anywhere' }}>
                {host.origin.replace(/^https:\/\//, '')}
                <div className="muted">{sortsWords(host)}</div>
              </td>
              <td>
                {askedWords(host)}
                {host.beforePaint ? <div className="muted">before the paint</div> : null}
              </td>
              <td className="number">{bytes(host.wireBytes)}</td>
              <td className="number">{ms(host.firstMs)}</td>
              <td className="number">{connectionWords(host)}</td>
              <td>{host.hinted.length ? host.hinted.join(', ') : 'no hint'}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="row">
        <CopyButton text={hostsText(hosts)} label="Copy the list" />
      </div>
    </>
  );
}
