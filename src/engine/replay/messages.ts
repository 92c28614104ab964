import type { Exchange } from '../../core/measure/exchange.ts';
import type { ReplayNote } from '../../core/measure/run.ts';
import type { Override } from './archive.ts';

/** What an arm serves; the name is how it is chosen before a load. */
export interface ArmFiles {
  name: string;
  overrides: Override[];
}

export interface ReplayLoad {
  exchanges: Exchange[];
  bodies: Map<string, Uint8Array>;
  arms: ArmFiles[];
  documentUrl: string;
  certificate: { key: string; cert: string };
  /** Wait the captured server times, or answer at once. */
  serverTimes: boolean;
}

/** Messages to the replay process. */
export type ToReplay =
  | { type: 'load'; load: ReplayLoad }
  | { type: 'arm'; name: string }
  | { type: 'add-arm'; arm: ArmFiles }
  | { type: 'notes' }
  | { type: 'preview'; arm: string }
  | { type: 'close' };

/** Messages from it, each answering one. */
export type FromReplay =
  | { type: 'ready'; hosts: { host: string; port: number; listen: number }[] }
  | { type: 'done' }
  | { type: 'notes'; notes: ReplayNote[] }
  | { type: 'preview'; url: string }
  | { type: 'failed'; message: string };
