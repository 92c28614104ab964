'use client';
import Button from '@mui/material/Button';
import { useMutation } from '@tanstack/react-query';
import { median, METRICS, type MetricKey, type Metrics } from '@/core/measure/metrics';
import { HEADLINE_NAMES, type HeadlineKey } from '@/core/measure/headline';
import { capital, count, ms } from '@/core/path/words';
import { AS_IS, TREATED, type ArmId } from '@/core/trial/arms';
import { armName } from '@/core/words/arms';
import type { ProveView } from '@/usecases/prove-view';
import { call, useStage } from '../api';
import { figure, signed, when } from '../figures';
import { axisTicks, seconds, shownFrames } from '../parts/shown-frames';
import { Caveats } from '../parts/Caveats';
import { JobButton, StageFrame, type StageProps } from '../parts/StageFrame';

/** Prove: as is and treated, in pairs, on the same bytes. */
export function ProveStage(props: StageProps) {
  const query = useStage<ProveView>(props.pageId, 'prove', props.conditionsId);
  return (
    <StageFrame
      query={query}
      empty={
        <>
          <h1>Nothing is proved yet.</h1>
          <p>
            A trial loads the page six times as it is and six times as treated, in pairs whose order is drawn
            at random, from the same stored bytes. It takes two to three minutes.
          </p>
          <div className="row">
            <JobButton kind="trial" label="Run the trial" {...props} />
            <OpenByHand {...props} />
          </div>
        </>
      }
    >
      {(data) => <Proved data={data} {...props} />}
    </StageFrame>
  );
}

function Proved({ data, ...props }: StageProps & { data: ProveView }) {
  const [asIs, treated] = data.arms;
  if (!asIs || !treated) return null;
  const { result, checks } = data;
  const added = checks.consoleErrors.treated.filter((text) => !checks.consoleErrors.asIs.includes(text));
  const picture = checks.finalPictureDiffers;
  return (
    <main className="screen">
      <h1 className="sentence">{result.sentence}</h1>
      {data.stale.length ? (
        <p className="note">Out of date: {data.stale.join(', ')}. Run the trial again.</p>
      ) : null}
      <Caveats said={data.caveats} />
      <div
        style={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 400px', gap: 14, alignItems: 'start' }}
      >
        <Mirror data={data} />
        <div style={{ display: 'grid', gap: 12 }}>
          <div className="sheet">
            <table className="plain">
              <thead>
                <tr>
                  <th>Medians of {result.paint.pairs} pairs</th>
                  <th className="number as-is">As is</th>
                  <th className="number treated">Treated</th>
                  <th className="number" style={{ whiteSpace: 'normal', width: 90 }}>
                    Median of paired differences
                  </th>
                </tr>
              </thead>
              <tbody>
                {METRICS.map((info) => {
                  const a = asIs.spreads[info.key];
                  const b = treated.spreads[info.key];
                  return (
                    <tr
                      key={info.key}
                      title={`as is ${figure(info, a.min)}–${figure(info, a.max)}, treated ${figure(info, b.min)}–${figure(info, b.max)}`}
                    >
                      <td>
                        {info.label}
                        {result.worse.some((one) => one.key === info.key) ? <b> worse</b> : null}
                      </td>
                      <td className="number">{figure(info, a.median)}</td>
                      <td className="number">{figure(info, b.median)}</td>
                      <td className="number">
                        <b>
                          {a.median === null || b.median === null
                            ? '–'
                            : signed(info, pairedMedian(asIs.metrics, treated.metrics, info.key))}
                        </b>
                      </td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </div>
          <div className="sheet">
            <table className="plain">
              <thead>
                <tr>
                  <th>95 % interval of the differences</th>
                  <th className="number">From</th>
                  <th className="number">To</th>
                  <th>Verdict</th>
                </tr>
              </thead>
              <tbody>
                <Interval
                  name={capital(HEADLINE_NAMES[result.headline])}
                  difference={result.paint}
                  withheld={result.withheld.paint}
                />
                <Interval
                  name="Speed Index"
                  difference={result.speedIndex}
                  withheld={result.withheld.speedIndex}
                />
              </tbody>
            </table>
          </div>
          <div className="sheet">
            <table className="plain">
              <thead>
                <tr>
                  <th>Did anything break?</th>
                  <th className="number">6 checks</th>
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
              </tbody>
            </table>
          </div>
        </div>
      </div>
      <div className="row">
        <JobButton kind="trial" label="Run the trial again" {...props} />
        <OpenByHand {...props} />
      </div>
      <p className="muted">
        {asIs.metrics.length * 2} runs on {when(data.takenAt)}, each watched for {ms(data.windowMs)}, after
        one discarded run of each arm; order drawn from seed {data.seed}. Final pictures are taken after a key
        press, when the page rests.
        {data.quality.rejected.length
          ? ` ${data.quality.rejected.length} pairs were dropped and made again: ${[...new Set(data.quality.rejected)].join('; ')}.`
          : ' No pair had to be dropped.'}
        {data.quality.tooBusy
          ? ' The machine was too busy to trust these figures: end other programs and run the trial again.'
          : ''}
        {data.runsApart
          ? ' Scripts delayed until interaction do not run inside the window unless ten seconds pass after load: their blocking time is then not in these figures.'
          : ''}
      </p>
      <h2 style={{ fontSize: 15 }}>Each pair</h2>
      <PairTable data={data} />
      <h2 style={{ fontSize: 15 }}>Final pictures</h2>
      <div className="pictures">
        {[`${AS_IS} final`, `${TREATED} final`, 'difference'].map((name) => {
          const found = data.pictures.find((one) => one.name === name);
          const caption =
            name === 'difference'
              ? 'Difference: differing pixels in ink'
              : capital(armName(name.replace(/ final$/, '')));
          return (
            <figure key={name}>
              <figcaption>{caption}</figcaption>
              {found ? (
                <img src={`/api/pictures/picture/${found.id}`} alt={caption} />
              ) : (
                <p className="muted">No picture was kept.</p>
              )}
            </figure>
          );
        })}
      </div>
    </main>
  );
}

/** The median of the pairs' own differences: what the verdict is about, not the difference of the medians. */
function pairedMedian(asIs: readonly Metrics[], treated: readonly Metrics[], key: MetricKey): number | null {
  return median(
    asIs.flatMap((run, index) => {
      const a = run[key];
      const b = treated[index]?.[key];
      return a === null || b === null || b === undefined ? [] : [b - a];
    }),
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

function Interval({
  name,
  difference,
  withheld,
}: {
  name: string;
  difference: ProveView['result']['paint'];
  withheld: string | null;
}) {
  return (
    <tr>
      <td>{name}</td>
      <td className="number">{difference.low === null ? '–' : signed({ unit: 'ms' }, difference.low)}</td>
      <td className="number">{difference.high === null ? '–' : signed({ unit: 'ms' }, difference.high)}</td>
      <td>{withheld ? `withheld: ${withheld}` : difference.verdict}</td>
    </tr>
  );
}

const HEIGHT = 92;

/** One axis for both arms: as is above it, treated mirrored below; frames where the picture changes. */
function Mirror({ data }: { data: ProveView }) {
  const frames = (arm: string) =>
    data.pictures
      .filter((one) => one.name === `${arm} frame` && one.atMs !== null)
      .map((one) => ({ id: one.id, atMs: one.atMs!, completeness: one.completeness ?? 0 }));
  const { headline } = data.result;
  const { shownPair } = data;
  /** Of the run that is drawn; of a trial of before it is not known which that was. */
  const paintOf = (index: 0 | 1) =>
    shownPair === null
      ? data.arms[index]!.spreads[headline].median
      : (data.arms[index]!.metrics[shownPair]?.[headline] ?? null);
  const arms = [
    {
      name: 'as is',
      word: 'As is',
      colour: 'var(--ochre)',
      soft: 'var(--ochre-soft)',
      frames: frames(AS_IS),
      paint: paintOf(0),
    },
    {
      name: 'treated',
      word: 'Treated',
      colour: 'var(--teal)',
      soft: 'var(--teal-soft)',
      frames: frames(TREATED),
      paint: paintOf(1),
    },
  ];
  const end = Math.max(1_000, ...arms.flatMap((arm) => arm.frames.map((frame) => frame.atMs))) * 1.12;
  const x = (time: number) => (1000 * time) / end;
  const steps = (list: (typeof arms)[number]['frames'], up: boolean) => {
    const y = (share: number) => (up ? HEIGHT - share * HEIGHT : share * HEIGHT);
    let path = `M0 ${y(0)}`;
    let last = 0;
    for (const frame of list) {
      path += ` L${x(frame.atMs)} ${y(last)} L${x(frame.atMs)} ${y(frame.completeness)}`;
      last = frame.completeness;
    }
    return `${path} L1000 ${y(last)}`;
  };
  const strip = (arm: (typeof arms)[number], up: boolean) => (
    <div style={{ position: 'relative', height: 118 }} aria-label={`${arm.word}: frames`}>
      {shownFrames(arm.frames, end / 13).map((frame) => (
        <span
          key={frame.id}
          style={{
            position: 'absolute',
            left: `${(100 * frame.atMs) / end}%`,
            [up ? 'bottom' : 'top']: 6,
            borderLeft: '2px solid var(--ink)',
          }}
        >
          <img
            src={`/api/pictures/picture/${frame.id}`}
            alt={`${arm.word} at ${ms(frame.atMs)}`}
            style={{
              height: 92,
              display: 'block',
              border: '1px solid var(--line)',
              borderLeft: 0,
              background: '#fff',
            }}
          />
        </span>
      ))}
    </div>
  );
  const curve = (arm: (typeof arms)[number], up: boolean) => (
    <div style={{ position: 'relative', height: HEIGHT }}>
      <svg
        viewBox={`0 0 1000 ${HEIGHT}`}
        preserveAspectRatio="none"
        width="100%"
        height={HEIGHT}
        style={{ display: 'block' }}
        role="img"
        aria-label={`${arm.word}: the fold as it fills`}
      >
        <path
          d={`${steps(arm.frames, up)} L1000 ${up ? HEIGHT : 0} L0 ${up ? HEIGHT : 0} Z`}
          fill={arm.soft}
        />
        <path
          d={steps(arm.frames, up)}
          fill="none"
          stroke={arm.colour}
          strokeWidth="2.5"
          vectorEffect="non-scaling-stroke"
        />
      </svg>
      {arm.paint !== null ? (
        <span
          style={{
            position: 'absolute',
            [up ? 'top' : 'bottom']: HEIGHT / 2 - 8,
            left: `${(100 * arm.paint) / end}%`,
            transform: 'translateX(calc(-100% - 8px))',
            color: arm.colour,
            fontWeight: 650,
            fontSize: 12.5,
            whiteSpace: 'nowrap',
          }}
        >
          {HEADLINE_NAMES[headline]} {count(arm.paint)}
        </span>
      ) : null}
      <span
        style={{
          position: 'absolute',
          left: 8,
          [up ? 'top' : 'bottom']: 6,
          color: arm.colour,
          fontWeight: 650,
        }}
      >
        {arm.word}
      </span>
    </div>
  );
  return (
    <section className="sheet" style={{ padding: '4px 0' }} aria-label="Both arms on one time axis">
      {strip(arms[0]!, true)}
      {curve(arms[0]!, true)}
      <div className="ticks" style={{ borderTop: '3px solid var(--ink)' }}>
        {axisTicks(end).map((tick) => (
          <span
            key={tick}
            style={
              tick === 0 ? { left: 8, justifyContent: 'flex-start' } : { left: `${(100 * tick) / end}%` }
            }
          >
            {seconds(tick)} s
          </span>
        ))}
      </div>
      {curve(arms[1]!, false)}
      {strip(arms[1]!, false)}
      <p className="muted" style={{ margin: '4px 10px' }}>
        {shownPair === null
          ? 'One run of each arm is drawn.'
          : `Drawn: pair ${shownPair + 1}, whose difference is nearest to the median of all.`}
      </p>
    </section>
  );
}

function PairTable({ data }: { data: ProveView }) {
  const [asIs, treated] = data.arms;
  return (
    <div className="sheet">
      <table className="plain">
        <thead>
          <tr>
            <th>Pair</th>
            <th>First</th>
            <th className="number">{capital(HEADLINE_NAMES[data.result.headline])} as is</th>
            <th className="number">treated</th>
            <th className="number">Difference</th>
            <th className="number">Speed Index as is</th>
            <th className="number">treated</th>
            <th className="number">Difference</th>
          </tr>
        </thead>
        <tbody>
          {asIs!.metrics.map((run, index) => {
            const other = treated!.metrics[index]!;
            const cells = (key: HeadlineKey | 'speedIndexMs') => {
              const [a, b] = [run[key], other[key]];
              return (
                <>
                  <td className="number">{figure({ unit: 'ms' }, a)}</td>
                  <td className="number">{figure({ unit: 'ms' }, b)}</td>
                  <td className="number">{a === null || b === null ? '–' : signed({ unit: 'ms' }, b - a)}</td>
                </>
              );
            };
            return (
              <tr key={index}>
                <td>{index + 1}</td>
                <td>{armName(data.order[index]?.[0] ?? AS_IS)}</td>
                {cells(data.result.headline)}
                {cells('speedIndexMs')}
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

/** Opens an arm on an origin of its own, to click through. */
function OpenByHand({ pageId, conditionsId }: StageProps) {
  const open = useMutation({
    mutationFn: async (arm: ArmId) => {
      const { url } = await call<{ url: string }>(`/api/pages/${pageId}/open?conditions=${conditionsId}`, {
        method: 'POST',
        body: { arm },
      });
      return { arm, url };
    },
  });
  return (
    <>
      {[TREATED, AS_IS].map((arm) => (
        <Button key={arm} variant="outlined" disabled={open.isPending} onClick={() => open.mutate(arm)}>
          Serve {arm === TREATED ? 'the treated page' : 'the page as is'}
        </Button>
      ))}
      {open.data ? (
        <a href={open.data.url} target="_blank" rel="noreferrer">
          Open it {open.data.arm}: {open.data.url}
        </a>
      ) : null}
      {open.error ? <span role="alert">{open.error.message}</span> : null}
    </>
  );
}
