import type { Header } from './exchange.ts';

/** Whether the browser comes with nothing, or with what a first visit left in its cache. */
export const VISIT_KINDS = ['first', 'return'] as const;
export type VisitKind = (typeof VISIT_KINDS)[number];

/** Something done on the page before it is captured, in order. */
export type VisitStep =
  { do: 'press'; selector: string } | { do: 'until'; selector: string } | { do: 'pause'; ms: number };

/** How a page is visited: as any visitor, or as the user says. Holds secrets: kept apart, never exported. */
export interface VisitSettings {
  /** Sent to the page's own origin only. */
  headers: Header[];
  cookies: { name: string; value: string }[];
  steps: VisitStep[];
}

export const AS_VISITOR: VisitSettings = { headers: [], cookies: [], steps: [] };

/** What the browser held after the steps, so that replay begins where the capture began. */
export interface VisitState {
  cookies: StoredCookie[];
  storage: { origin: string; items: [key: string, value: string][] }[];
}

export interface StoredCookie {
  name: string;
  value: string;
  domain: string;
  path: string;
  secure: boolean;
  httpOnly: boolean;
}

/** True when the settings make the visit another one than any visitor's. */
export function isSpecial(settings: VisitSettings): boolean {
  return settings.headers.length + settings.cookies.length + settings.steps.length > 0;
}

/**
 * Reads steps as they are written, one a line: "press .accept", "until #menu", "pause 500".
 *
 * @throws Error that names the line that cannot be read
 */
export function readSteps(text: string): VisitStep[] {
  return text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean)
    .map((line): VisitStep => {
      const press = /^press\s+(.+)$/i.exec(line)?.[1];
      if (press) return { do: 'press', selector: press };
      const until = /^until\s+(.+)$/i.exec(line)?.[1];
      if (until) return { do: 'until', selector: until };
      const pause = /^pause\s+(\d+)(?:\s*ms)?$/i.exec(line)?.[1];
      if (pause && Number(pause) <= 30_000) return { do: 'pause', ms: Number(pause) };
      throw new Error(
        `“${line}” is no step. Write “press SELECTOR”, “until SELECTOR” (it can be seen) or “pause MILLISECONDS” (30,000 at most).`,
      );
    });
}

/** Writes steps as `readSteps` reads them. */
export function writeSteps(steps: readonly VisitStep[]): string {
  return steps
    .map((step) => (step.do === 'pause' ? `pause ${step.ms}` : `${step.do} ${step.selector}`))
    .join('\n');
}
