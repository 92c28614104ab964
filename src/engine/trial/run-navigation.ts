import type { Conditions } from '../../core/measure/conditions.ts';
import type { Bodies, Capture } from '../../core/measure/exchange.ts';
import type { VisitState } from '../../core/measure/visit.ts';
import type { Yardstick } from '../../core/measure/yardstick.ts';
import {
  judgeNavigation,
  type NavigationFigures,
  type NavigationResult,
} from '../../core/next/navigation.ts';
import { together } from '../../core/next/together.ts';
import { AS_IS, TREATED, type ArmId } from '../../core/trial/arms.ts';
import { roundOrder } from '../../core/trial/order.ts';
import type { TreatedPage } from '../../core/treat/apply.ts';
import type { LoadLimits } from '../chromium/visit.ts';
import { Lab } from '../lab/lab.ts';
import { runRounds } from '../lab/rounds.ts';
import { overridesOf } from '../replay/overrides.ts';
import { navigationLoad, type NavigationLoad } from './navigation-load.ts';

export interface NavigationRequest {
  capture: Capture;
  bodies: Bodies;
  state: VisitState | null;
  yardstick: Yardstick | null;
  conditions: Conditions;
  /** The page that is left, with nothing asked for ahead. */
  without: TreatedPage;
  /** The same page with what is asked for ahead. */
  ahead: TreatedPage;
  /** The page that is gone to, as authored. */
  next: { name: string; capture: Capture; bodies: Bodies };
  pairs: number;
  seed?: number;
  limits?: LoadLimits;
  onProgress?: (step: string, done: number, of: number) => void;
  signal?: AbortSignal;
}

/** How the way to a next page was tried, and what came of it. */
export interface NavigationTrial extends NavigationResult {
  takenAt: string;
  seed: number;
  yardstick: Yardstick;
  quality: { rejected: string[]; tooBusy: boolean };
}

const NAMES: Record<string, string> = { [AS_IS]: 'nothing asked for ahead', [TREATED]: 'asked for ahead' };

/**
 * Goes from a page to its next one, in pairs, with and without what is asked for ahead, through the same bottleneck:
 * the press comes two seconds after the first page has loaded.
 */
export function runNavigation(request: NavigationRequest): Promise<NavigationTrial> {
  const { capture, conditions, next, pairs: wanted, signal } = request;
  const say = request.onProgress ?? (() => undefined);
  const seed = request.seed ?? Math.floor(Math.random() * 2 ** 31) + 1;
  const order = roundOrder([AS_IS, TREATED], seed);
  const both = together(request, next);
  const { documentUrl } = capture;
  const arms = [
    { name: AS_IS, overrides: overridesOf(documentUrl, request.without) },
    { name: TREATED, overrides: overridesOf(documentUrl, request.ahead) },
  ];
  return Lab.with({ ...request, ...both, arms }, async (lab) => {
    const go = (arm: ArmId) =>
      navigationLoad({
        browser: lab.browser,
        replay: lab.replay,
        arm,
        url: capture.url,
        documentUrl,
        next: { name: next.name, url: next.capture.url, documentUrl: next.capture.documentUrl },
        conditions,
        cpuRate: lab.cpuRate,
        clock: capture.clock,
        state: request.state,
        ...(request.limits ? { limits: request.limits } : {}),
        ...(signal ? { signal } : {}),
      });
    say('Warming up', 0, wanted * 2 + 1);
    await go(AS_IS);
    const { rounds, ...quality } = await runRounds({
      order,
      wanted: () => wanted,
      load: go,
      circumstancesOf: ({ circumstances }) => [circumstances],
      onLoad(arm, { round, turn, madeAgain }) {
        const again = madeAgain ? `, ${madeAgain} made again` : '';
        say(`Way ${round + 1} of ${wanted}${again}: ${NAMES[arm]}`, round * 2 + turn + 1, wanted * 2 + 1);
      },
      ...(signal ? { signal } : {}),
    });
    const figures = (arm: NavigationLoad): NavigationFigures => {
      const { circumstances: _circumstances, ...rest } = arm;
      return rest;
    };
    const pairs = rounds.map((round) => ({
      without: figures(round.get(AS_IS)!),
      ahead: figures(round.get(TREATED)!),
    }));
    return {
      ...judgeNavigation(pairs),
      takenAt: new Date().toISOString(),
      seed,
      yardstick: lab.yardstick,
      quality,
    };
  });
}
