'use client';
import Slider from '@mui/material/Slider';
import type { ViewportProof } from '@/core/fold/record';

/** A slider that stops at the widths that are proved. */
export function WidthSlider({
  proofs,
  width,
  onWidth,
}: {
  proofs: readonly ViewportProof[];
  width: number;
  onWidth: (width: number) => void;
}) {
  return (
    <Slider
      aria-label="Width of the viewport"
      size="small"
      step={null}
      min={proofs[0]!.width}
      max={proofs.at(-1)!.width}
      value={width}
      marks={proofs.map((one) => ({ value: one.width, label: one.between ? '' : String(one.width) }))}
      getAriaValueText={(value) => `${value} px wide`}
      onChange={(_event, value) => onWidth(value)}
    />
  );
}
