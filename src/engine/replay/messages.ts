import type { Exchange, PageClock } from '../../core/measure/exchange.ts';
import type { ReplayNote } from '../../core/measure/run.ts';
import type { Override } from './archive.ts';
import type { NetworkSetting } from './shaper.ts';

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
  /** When the capture was taken: dates in headers are moved by what has passed since. */
  takenAt: string;
  /** The clock that the page's scripts are given. */
  clock: PageClock | null;
  certificate: { key: string; cert: string };
  /** Wait the captured server times, or answer at once. */
  serverTimes: boolean;
  /** The bottleneck to send everything through; null sends as fast as the machine can. */
  network: NetworkSetting | null;
  /** Serve plain HTTP captures as they would be in production: HTTPS with HTTP/2. */
  asProduction: boolean;
}

/** Where a captured host and port is replayed. */
export interface ReplayedHost {
  host: string;
  port: number;
  listen: number;
}

/** What happened since the arm was chosen. */
export interface ReplayReport {
  notes: ReplayNote[];
  /** By how much the bottleneck's timers were late, ms, each. */
  latenessMs: number[];
  /** Bytes that the bottleneck let through to the browser. */
  sentBytes: number;
}

/** Messages to the replay process. */
export type ToReplay =
  | { type: 'load'; load: ReplayLoad }
  | { type: 'arm'; name: string }
  | { type: 'add-arm'; arm: ArmFiles }
  | { type: 'report' }
  | { type: 'close' };

/** A message with the number that its answer carries: what takes longer may be answered later. */
export interface Numbered<T> {
  id: number;
  message: T;
}

/** Messages from it, each answering one. */
export type FromReplay =
  | { type: 'ready'; hosts: ReplayedHost[]; encodingDeviation: number; pid: number }
  | { type: 'done' }
  | { type: 'report'; report: ReplayReport }
  | { type: 'failed'; message: string };
