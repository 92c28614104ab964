'use client';
import { useEffect, useState } from 'react';
import type { FormattedLanguage } from '../workers/format-code';
import type { FormatAnswer, FormatOrder } from '../workers/format.worker';
import { CodeView } from './CodeView';

/** Lines longer than this on average were not written by hand. */
const LONG_LINES = 160;

/** The text of an asset: as it was sent, or laid out to be read; at first as suits it. */
export function AssetCode({
  text,
  cut,
  language,
  label,
}: {
  text: string;
  /** Only the beginning of a text: it cannot be laid out. */
  cut: boolean;
  language: FormattedLanguage;
  label: string;
}) {
  const [wanted, setWanted] = useState(!cut && text.length / text.split('\n').length > LONG_LINES);
  const answer = useFormatted(wanted ? text : null, language);
  const formatted = wanted && answer?.state === 'formatted' ? answer.text : null;
  return (
    <>
      <div className="row" style={{ margin: '2px 0 4px' }}>
        <button
          type="button"
          className="key"
          aria-pressed={wanted}
          disabled={cut}
          title={cut ? 'Only its beginning is shown, which cannot be laid out.' : undefined}
          onClick={() => setWanted((now) => !now)}
        >
          {wanted ? 'as it was sent' : 'formatted'}
        </button>
        <span className="muted" role="status">
          {!wanted
            ? 'As it was sent.'
            : answer === null
              ? 'Laying it out to be read…'
              : answer.state === 'refused'
                ? `It cannot be laid out, so it stands as it was sent: ${answer.why.split('\n')[0]}`
                : 'Laid out to be read: lines are not those of the file.'}
        </span>
      </div>
      <CodeView text={formatted ?? text} language={language} height="340px" label={label} />
    </>
  );
}

/** A text laid out by a worker; null while it is at it, or where nothing is asked of it. */
function useFormatted(text: string | null, language: FormattedLanguage): FormatAnswer | null {
  const [answer, setAnswer] = useState<{ of: string; answer: FormatAnswer } | null>(null);
  useEffect(() => {
    if (text === null) return;
    const worker = new Worker(new URL('../workers/format.worker.ts', import.meta.url), { type: 'module' });
    const answered = (given: FormatAnswer) => {
      setAnswer({ of: text, answer: given });
      worker.terminate();
    };
    worker.onmessage = ({ data }: MessageEvent<FormatAnswer>) => answered(data);
    worker.onerror = () => answered({ state: 'refused', why: 'the formatter could not be started' });
    worker.postMessage({ text, language } satisfies FormatOrder);
    return () => worker.terminate();
  }, [text, language]);
  return answer !== null && answer.of === text ? answer.answer : null;
}
