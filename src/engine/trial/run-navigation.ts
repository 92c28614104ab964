import type { Conditions } from '../../core/measure/conditions.ts';
import type { Bodies, Capture } from '../../core/measure/exchange.ts';
import type { VisitState } from '../../core/measure/visit.ts';
import type { Yardstick } from '../../core/measure/yardstick.ts';
import {
  judgeNavigation,
  type NavigationFigures,
  type NextPlan,
  type NavigationResult,
} from '../../core/next/navigation.ts';
import { together } from '../../core/next/together.ts';
import { AS_IS, BOTH_TREATED, TREATED, type ArmId } from '../../core/trial/arms.ts';
import { roundOrder } from '../../core/trial/order.ts';
import type { TreatedPage } from '../../core/treat/apply.ts';
import type { LoadLimits } from '../chromium/visit.ts';
import { Lab } from '../lab/lab.ts';
import { runRounds } from '../lab/rounds.ts';
import type { ArmFiles } from '../replay/messages.ts';
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
  /** The page that is gone to: as authored, and with its own plan where that is tried as well. */
  next: { name: string; capture: Capture; bodies: Bodies; treated: TreatedPage | null; plan: NextPlan };
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

const NAMES: Record<string, string> = {
  [AS_IS]: 'nothing asked for ahead',
  [TREATED]: 'asked for ahead',
  [BOTH_TREATED]: 'with the next page’s plan as well',
};

/**
 * Goes from a page to its next one, in rounds, with and without what is asked for ahead, and with the next page's own
 * plan as well, through the same bottleneck: the press comes two seconds after the first page has loaded.
 */
export function runNavigation(request: NavigationRequest): Promise<NavigationTrial> {
  const { capture, conditions, next, pairs: wanted, signal } = request;
  const say = request.onProgress ?? (() => undefined);
  const seed = request.seed ?? Math.floor(Math.random() * 2 ** 31) + 1;
  const both = together(request, next);
  const arms = armsOf(request);
  const order = roundOrder(
    arms.map(({ name }) => name),
    seed,
  );
  const { documentUrl } = capture;
  const loads = wanted * arms.length + 1;
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
    say('Warming up', 0, loads);
    await go(AS_IS);
    const { rounds, ...quality } = await runRounds({
      order,
      wanted: () => wanted,
      load: go,
      circumstancesOf: ({ circumstances }) => [circumstances],
      onLoad(arm, { round, turn, madeAgain }) {
        const again = madeAgain ? `, ${madeAgain} made again` : '';
        say(`Way ${round + 1} of ${wanted}${again}: ${NAMES[arm]}`, round * arms.length + turn + 1, loads);
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
      both: round.has(BOTH_TREATED) ? figures(round.get(BOTH_TREATED)!) : null,
    }));
    return {
      ...judgeNavigation(pairs, next.plan),
      takenAt: new Date().toISOString(),
      seed,
      yardstick: lab.yardstick,
      quality,
    };
  });
}

function armsOf({ capture, without, ahead, next }: NavigationRequest): ArmFiles[] {
  const { documentUrl } = capture;
  const first = overridesOf(documentUrl, ahead);
  const arms = [
    { name: AS_IS, overrides: overridesOf(documentUrl, without) },
    { name: TREATED, overrides: first },
  ];
  if (!next.treated) return arms;
  const further = overridesOf(next.capture.documentUrl, next.treated);
  // A file that both plans make is the same one.
  const more = further.filter(({ url }) => first.every((one) => one.url !== url));
  return [...arms, { name: BOTH_TREATED, overrides: [...first, ...more] }];
}
