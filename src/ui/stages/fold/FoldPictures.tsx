'use client';
import Button from '@mui/material/Button';
import { lazy, useState, type MouseEvent } from 'react';
import type { FoldDecision } from '@/core/fold/decisions';
import type { Area, ViewportProof } from '@/core/fold/record';
import { foldOf, nameOfViewport } from '@/core/fold/viewports';
import type { FoldView } from '@/usecases/fold-view';
import { OnceThere } from '../../parts/Later';

const WidthSlider = lazy(() => import('./WidthSlider').then((one) => ({ default: one.WidthSlider })));
const ElementField = lazy(() => import('./ElementField').then((one) => ({ default: one.ElementField })));

/** About how high pictures stand on the screen, px. */
const [NARROW_HEIGHT, WIDE_HEIGHT] = [560, 280];

/** The two pictures of a viewport side by side, a third where they differ, a slider through all widths, and pointing at elements. */
export function FoldPictures({
  data,
  onDecide,
}: {
  data: FoldView;
  onDecide: (decision: FoldDecision) => void;
}) {
  const proofs = [...data.viewports].sort((a, b) => a.width - b.width);
  const [width, setWidth] = useState(data.viewports[0]?.width ?? 0);
  const [selector, setSelector] = useState<string | null>(null);
  const proof = proofs.find((one) => one.width === width) ?? proofs[0];
  if (!proof) return null;
  const picture = (name: string) =>
    data.pictures.find((one) => one.name === `${proof.width}x${proof.height} ${name}`)?.id;
  const differs = !proof.holds;
  const pointed = proof.elements.find((one) => one.selector === selector) ?? null;
  return (
    <section aria-label="Pictures">
      <Widths proofs={proofs} proof={proof} onWidth={setWidth} />
      <ElementChoice proof={proof} pointed={pointed} onPoint={setSelector} onDecide={onDecide} />
      <div
        className={`pictures ${proof.width < proof.height ? 'narrow' : differs ? '' : 'two'}`}
        style={{ marginTop: 6 }}
      >
        <Picture
          id={picture('allCss')}
          caption="With all CSS: point at an element"
          proof={proof}
          areas={pointed ? [pointed] : []}
          onPoint={(x, y) => setSelector(elementAt(proof, x, y)?.selector ?? null)}
        />
        <Picture id={picture('foldOnly')} caption="With the fold CSS only" proof={proof} areas={[]} />
        {differs ? (
          <Picture
            id={picture('difference')}
            caption="Difference: differing pixels in ink"
            proof={proof}
            areas={proof.differences}
            numbered
          />
        ) : null}
      </div>
      <WhatDiffers proof={proof} onDecide={onDecide} />
    </section>
  );
}

/** A slider through all widths that are proved, and what the one it stands at shows. */
function Widths({
  proofs,
  proof,
  onWidth,
}: {
  proofs: readonly ViewportProof[];
  proof: ViewportProof;
  onWidth: (width: number) => void;
}) {
  return (
    <div className="row" style={{ gap: 22, marginTop: 8 }}>
      <div style={{ width: 400, minHeight: 54, marginLeft: 16 }}>
        <OnceThere>
          <WidthSlider proofs={proofs} width={proof.width} onWidth={onWidth} />
        </OnceThere>
      </div>
      <span>
        <b>{nameOfViewport(proof)}</b>
        {proof.between ? ', between the chosen ones' : ''}: {verdictOf(proof)}
      </span>
    </div>
  );
}

/** Element by element, in what the two pictures differ, and for want of which rule. */
function WhatDiffers({
  proof,
  onDecide,
}: {
  proof: ViewportProof;
  onDecide: (decision: FoldDecision) => void;
}) {
  if (proof.differences.length === 0) return null;
  return (
    <ol aria-label="What differs">
      {proof.differences.map((one, index) => (
        <li key={index}>
          <code>{one.element ?? 'no element of its own'}</code>
          {one.property ? ` differs in ${one.property}` : ' stands elsewhere'}
          {one.rule ? (
            <>
              {' '}
              for want of <code>{one.rule.selector}</code>{' '}
              <Button
                variant="outlined"
                onClick={() => onDecide({ verb: 'keep', by: 'rule', what: one.rule!.selector })}
              >
                Always keep it
              </Button>
            </>
          ) : null}
        </li>
      ))}
    </ol>
  );
}

/** The element that is pointed at, and what is decided of it. */
function ElementChoice({
  proof,
  pointed,
  onPoint,
  onDecide,
}: {
  proof: ViewportProof;
  pointed: ViewportProof['elements'][number] | null;
  onPoint: (selector: string | null) => void;
  onDecide: (decision: FoldDecision) => void;
}) {
  return (
    <div className="row">
      <div style={{ flex: '1 1 220px', maxWidth: 416, minHeight: 40 }}>
        <OnceThere>
          <ElementField
            selectors={[...new Set(proof.elements.map((one) => one.selector))]}
            selector={pointed?.selector ?? null}
            onSelect={onPoint}
          />
        </OnceThere>
      </div>
      <Button
        variant="outlined"
        disabled={!pointed}
        onClick={() => onDecide({ verb: 'keep', by: 'element', what: pointed!.selector })}
      >
        Always keep what it needs
      </Button>
      <Button
        variant="outlined"
        disabled={!pointed}
        onClick={() => onDecide({ verb: 'leave-out', by: 'element', what: pointed!.selector })}
      >
        Leave it out
      </Button>
    </div>
  );
}

function verdictOf(proof: ViewportProof): string {
  const share = `${(proof.differingPixelShare * 100).toFixed(3)} % of the pixels differ`;
  if (proof.blank) return 'blank, so nothing is proved';
  if (proof.undecided)
    return `undecided: the page itself is not the same twice (${proof.unsteady!.elements.join(', ')})`;
  const unsteady = proof.unsteady?.share
    ? `, ${(proof.unsteady.share * 100).toFixed(1)} % not the same twice`
    : '';
  const masked = proof.maskedShare > 0 ? `, ${(proof.maskedShare * 100).toFixed(1)} % not compared` : '';
  return `${share}${proof.otherElements ? `, ${proof.otherElements} elements look otherwise` : ''}${masked}${unsteady}`;
}

/** The smallest element under a point. */
function elementAt(proof: ViewportProof, x: number, y: number) {
  return proof.elements
    .filter((one) => one.left <= x && one.top <= y && one.left + one.width >= x && one.top + one.height >= y)
    .sort((a, b) => a.width * a.height - b.width * b.height)[0];
}

function Picture({
  id,
  caption,
  proof,
  areas,
  numbered = false,
  onPoint,
}: {
  id: number | undefined;
  caption: string;
  proof: ViewportProof;
  areas: readonly Area[];
  numbered?: boolean;
  onPoint?: (x: number, y: number) => void;
}) {
  const fold = foldOf(proof);
  const point = (event: MouseEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    onPoint?.(
      ((event.clientX - box.left) / box.width) * proof.width,
      ((event.clientY - box.top) / box.height) * proof.height,
    );
  };
  // Numbers and lines keep their size on the screen whatever the picture is scaled by.
  const unit = proof.height / (proof.width < proof.height ? NARROW_HEIGHT : WIDE_HEIGHT);
  return (
    <figure>
      <figcaption>{caption}</figcaption>
      {id === undefined ? (
        <p className="muted">No picture was kept.</p>
      ) : (
        <div className="shot" style={{ aspectRatio: `${proof.width} / ${proof.height}` }}>
          <img src={`/api/pictures/picture/${id}`} alt={caption} fetchPriority="low" />
          <svg
            viewBox={`0 0 ${proof.width} ${proof.height}`}
            preserveAspectRatio="none"
            aria-hidden
            style={onPoint ? { cursor: 'crosshair' } : undefined}
            onClick={onPoint ? point : undefined}
          >
            {areas.map((area, index) => (
              <g key={index}>
                <rect
                  x={area.left}
                  y={area.top}
                  width={Math.max(area.width, 4)}
                  height={Math.max(area.height, 4)}
                  strokeWidth={2 * unit}
                />
                {numbered ? (
                  <text x={area.left + area.width + 4 * unit} y={area.top + 11 * unit} fontSize={13 * unit}>
                    {index + 1}
                  </text>
                ) : null}
              </g>
            ))}
            <line
              x1="0"
              x2={proof.width}
              y1={fold - unit}
              y2={fold - unit}
              strokeWidth={2 * unit}
              strokeDasharray={`${6 * unit} ${4 * unit}`}
            />
          </svg>
        </div>
      )}
    </figure>
  );
}
