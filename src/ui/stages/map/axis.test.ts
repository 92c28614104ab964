import { describe, expect, it } from 'vitest';
import { atMoment, besideLine, overTime, panned, stretches, Strips, zoomed } from './axis.ts';

describe('the axis', () => {
  it('zooms about the moment under the pointer, which stays where it is', () => {
    const near = zoomed({ from: 0, to: 4_000 }, 1_000, 0.5, 4_000);
    expect(near).toEqual({ from: 500, to: 2_500 });
    expect((1_000 - near.from) / (near.to - near.from)).toBe(0.25);
  });

  it('never leaves the load, and never looks closer than it can show', () => {
    expect(zoomed({ from: 0, to: 4_000 }, 1_000, 3, 4_000)).toEqual({ from: 0, to: 4_000 });
    const closest = zoomed({ from: 100, to: 150 }, 120, 0.1, 4_000);
    expect(closest.to - closest.from).toBe(40);
    expect(panned({ from: 3_000, to: 4_000 }, 0.5, 4_000)).toEqual({ from: 3_000, to: 4_000 });
    expect(panned({ from: 1_000, to: 2_000 }, -0.5, 4_000)).toEqual({ from: 500, to: 1_500 });
  });
});

it('puts what is written within a stretch beside the line that crosses it, where there is more room', () => {
  const stretch = { startMs: 500, endMs: 1_000 };
  expect(besideLine(600, stretch)).toEqual({ width: '80%', marginLeft: '20%' });
  expect(besideLine(900, stretch)).toEqual({ width: '80%', marginRight: '20%' });
  for (const outside of [undefined, 500, 1_000, 1_200]) expect(besideLine(outside, stretch)).toEqual({});
});

describe('the strips of a chart', () => {
  const strip = () => ({ style: {} as CSSStyleDeclaration }) as HTMLElement;

  it('show the stretch of the axis across the lane: longer the closer one looks, moved back by its start', () => {
    const strips = new Strips(4_000);
    const one = strip();
    strips.hold(one);
    expect([one.style.width, one.style.transform]).toEqual(['100.0000%', 'translateX(0.0000%)']);
    strips.show({ from: 1_000, to: 2_000 });
    expect([one.style.width, one.style.transform]).toEqual(['400.0000%', 'translateX(-25.0000%)']);
    expect(strips.axis).toEqual({ from: 1_000, to: 2_000 });
  });

  it('are stretched as pictures until they are laid out for what is shown: both look alike', () => {
    const strips = new Strips(4_000);
    const one = strip();
    strips.hold(one);
    strips.show({ from: 0, to: 2_000 });
    strips.stretch({ from: 500, to: 1_500 });
    expect(one.style.width).toBe('200.0000%');
    // A moment stands at its share of the width, times the stretching, less the way back.
    const left = (ms: number) => {
      const [, back, by] = /translateX\((.*)%\)(?: scaleX\((.*)\))?/.exec(one.style.transform)!;
      const width = parseFloat(one.style.width);
      return (ms / 4_000) * width * Number(by ?? 1) + (Number(back) / 100) * width;
    };
    expect([500, 1_000, 1_500].map(left)).toEqual([0, 50, 100]);
    strips.show(strips.axis);
    expect([one.style.width, one.style.transform]).toEqual(['400.0000%', 'translateX(-12.5000%)']);
    expect([500, 1_000, 1_500].map(left)).toEqual([0, 50, 100]);
  });

  it('place a row that is drawn later as those before it, and leave alone what is gone', () => {
    const strips = new Strips(4_000);
    const [gone, later] = [strip(), strip()];
    strips.hold(gone)();
    strips.show({ from: 0, to: 2_000 });
    strips.hold(later);
    expect(later.style.width).toBe('200.0000%');
    expect(gone.style.width).toBe('100.0000%');
  });

  it('hold bars at their share of the whole load', () => {
    expect(atMoment(500)).toEqual({ left: 'calc(500 / var(--end) * 100%)' });
    expect(overTime(500, 400).width).toBe('calc(0 / var(--end) * 100%)');
    expect(stretches([{ startMs: 500, endMs: 700 }])).toBe(
      'linear-gradient(90deg, transparent calc(500 / var(--end) * 100%), currentColor calc(500 / var(--end) * 100%), currentColor calc(700 / var(--end) * 100%), transparent calc(700 / var(--end) * 100%))',
    );
    expect(stretches([])).toBe('none');
  });
});
