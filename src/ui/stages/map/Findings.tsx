'use client';
import { lazy, useState } from 'react';
import type { Finding } from '@/core/path/findings';
import { count } from '@/core/path/words';
import { Later } from '../../parts/Later';

const OwnerDialog = lazy(() => import('./OwnerDialog').then((one) => ({ default: one.OwnerDialog })));

const LINE_WORDS: Record<Finding['line'], string> = {
  waiting: 'would shorten waiting for assets',
  connecting: 'would shorten connecting',
  server: 'would shorten the server’s answer',
  bytes: 'would free the line',
  'main thread': 'would free the main thread',
  'after the paint': 'come after the paint',
};

/** What follows from the map, by the line of the bill it shortens. */
export function Findings({ findings, onPick }: { findings: Finding[]; onPick: (url: string) => void }) {
  const [naming, setNaming] = useState<string[] | null>(null);
  const lines = [...new Set(findings.map((finding) => finding.line))];
  if (lines.length === 0) return null;
  return (
    <section aria-label="Findings">
      <h2 style={{ fontSize: 15, margin: '18px 0 4px' }}>
        Findings <span className="muted">{findings.length}, by the line of the bill they shorten</span>
      </h2>
      {lines.map((line) => (
        <div key={line} className="findings">
          <b>{LINE_WORDS[line]}</b>
          <ul>
            {findings
              .filter((finding) => finding.line === line)
              .map((finding) => (
                <li key={finding.id} id={`finding-${findings.indexOf(finding) + 1}`} tabIndex={-1}>
                  <b className="muted">{findings.indexOf(finding) + 1}</b>
                  <span className="number">
                    {finding.costMs !== null && finding.costMs >= 1
                      ? `up to ${count(finding.costMs)} ms`
                      : ''}
                  </span>
                  <span>
                    {finding.sentence}{' '}
                    {finding.urls[0] ? (
                      <button
                        type="button"
                        className="key"
                        aria-label={`show ${finding.urls[0]}`}
                        onClick={() => onPick(finding.urls[0]!)}
                      >
                        show
                      </button>
                    ) : null}{' '}
                    {finding.domains ? (
                      <button
                        type="button"
                        className="key"
                        aria-label={`whose? Name the owner of ${finding.domains.join(', ')}`}
                        onClick={() => setNaming(finding.domains!)}
                      >
                        whose?
                      </button>
                    ) : null}
                  </span>
                </li>
              ))}
          </ul>
        </div>
      ))}
      {naming ? (
        <Later>
          <OwnerDialog domains={naming} onClose={() => setNaming(null)} />
        </Later>
      ) : null}
    </section>
  );
}
