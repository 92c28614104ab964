import type { ChildProcess } from 'node:child_process';
import { setTimeout as sleep } from 'node:timers/promises';
import type { Conditions } from '../../core/measure/conditions.ts';
import type { Bodies, Capture } from '../../core/measure/exchange.ts';
import { makeCertificate, type OwnCertificate } from '../chromium/certificates.ts';
import { launchChromium, type LaunchedBrowser, type LaunchOptions } from '../chromium/launch.ts';
import { Trouble } from '../errors.ts';
import { startEngineProcess } from '../processes.ts';
import type { ArmFiles, FromReplay, Numbered, ReplayedHost, ReplayReport, ToReplay } from './messages.ts';

/** What is replayed, and how. */
export interface ReplayRequest {
  capture: Capture;
  bodies: Bodies;
  arms: ArmFiles[];
  /** The conditions whose network everything goes through; null answers as fast as the machine can, at once. */
  conditions: Conditions | null;
}

const ENDED = 'The replay process ended unexpectedly. Nothing stored was changed; try again.';
/** A page is told that nobody listens any more a moment before we are told why. */
const TOLD_WITHIN_MS = 500;

/** The replay process: each answer carries the number of what it answers. */
export class Replay {
  #child: ChildProcess;
  #waiting = new Map<number, { resolve: (answer: FromReplay) => void; reject: (error: Error) => void }>();
  #asked = 0;
  #hosts: ReplayedHost[] = [];
  #certificate: OwnCertificate;
  #asProduction: boolean;
  /** Hosts that were captured plainly, and addresses that were captured securely. */
  #plainHosts: ReadonlySet<string>;
  #secureUrls: ReadonlySet<string>;
  #encodingDeviation = 0;
  #browsers: LaunchedBrowser[] = [];

  private constructor(child: ChildProcess, request: ReplayRequest, certificate: OwnCertificate) {
    this.#child = child;
    this.#certificate = certificate;
    const { capture, conditions } = request;
    this.#asProduction = conditions?.protocol === 'production' && capture.documentUrl.startsWith('http:');
    this.#plainHosts = new Set(
      capture.exchanges.filter((one) => one.url.startsWith('http:')).map((one) => new URL(one.url).host),
    );
    this.#secureUrls = new Set(
      capture.exchanges.filter((one) => one.url.startsWith('https:')).map((one) => one.url),
    );
    child.on('message', ({ id, message }: Numbered<FromReplay>) => {
      const asked = this.#waiting.get(id);
      this.#waiting.delete(id);
      if (message.type === 'failed')
        asked?.reject(new Trouble('measuring', `Replay failed: ${message.message}`));
      else asked?.resolve(message);
    });
    child.on('exit', () => {
      for (const one of this.#waiting.values()) one.reject(new Trouble('measuring', ENDED));
      this.#waiting.clear();
      // A page would otherwise wait for its whole time limit on a server that is gone.
      for (const { browser } of this.#browsers.splice(0)) browser.process()?.kill('SIGKILL');
    });
  }

  /** Starts a replay process on a capture. */
  static async start(request: ReplayRequest): Promise<Replay> {
    const { capture, conditions } = request;
    const names = new Set(
      [...capture.exchanges.map((one) => one.url), capture.documentUrl].map((url) => new URL(url).hostname),
    );
    const certificate = await makeCertificate([...names]);
    const child = startEngineProcess('replay/replay-process.ts');
    const replay = new Replay(child, request, certificate);
    try {
      const answer = await replay.#ask({
        type: 'load',
        load: {
          exchanges: capture.exchanges,
          bodies: new Map(request.bodies),
          arms: request.arms,
          documentUrl: capture.documentUrl,
          takenAt: capture.takenAt,
          clock: capture.clock,
          certificate: { key: certificate.key, cert: certificate.cert },
          serverTimes: conditions !== null,
          network: conditions && {
            roundTripMs: conditions.roundTripMs,
            downKbps: conditions.downKbps,
            upKbps: conditions.upKbps,
          },
          asProduction: replay.#asProduction,
        },
      });
      if (answer.type === 'ready') {
        replay.#hosts = answer.hosts;
        replay.#encodingDeviation = answer.encodingDeviation;
      }
      return replay;
    } catch (error) {
      child.kill('SIGKILL');
      throw error;
    }
  }

  #ask(message: ToReplay): Promise<FromReplay> {
    return new Promise((resolve, reject) => {
      if (!this.#child.connected) {
        reject(new Trouble('measuring', ENDED));
        return;
      }
      const id = ++this.#asked;
      this.#waiting.set(id, { resolve, reject });
      this.#child.send({ id, message } satisfies Numbered<ToReplay>);
    });
  }

  /** Every captured host and port, loopback ones too, mapped to where it is replayed. */
  get hostRules(): string[] {
    return this.#hosts.map(({ host, port, listen }) => `MAP ${host}:${port} 127.0.0.1:${listen}`);
  }

  /** A browser that finds the captured hosts here, and nothing else anywhere. */
  async launchBrowser({ untimed }: Pick<LaunchOptions, 'untimed'> = {}): Promise<LaunchedBrowser> {
    const launched = await launchChromium({
      ...(untimed ? { untimed } : {}),
      hostRules: this.hostRules,
      acceptedKeys: [this.#certificate.publicKeyHash],
    });
    this.#browsers.push(launched);
    return launched;
  }

  /** Work that needs the replay: where it fails because the process ended meanwhile, that is what is told. */
  async whileRunning<T>(work: Promise<T>): Promise<T> {
    try {
      return await work;
    } catch (error) {
      const cancelled = error instanceof Trouble && error.kind === 'cancelled';
      throw !cancelled && (await this.#endsSoon()) ? new Trouble('measuring', ENDED) : error;
    }
  }

  get #hasEnded(): boolean {
    return this.#child.exitCode !== null || this.#child.signalCode !== null;
  }

  async #endsSoon(): Promise<boolean> {
    const until = performance.now() + TOLD_WITHIN_MS;
    while (!this.#hasEnded && performance.now() < until) await sleep(20);
    return this.#hasEnded;
  }

  async chooseArm(name: string): Promise<void> {
    await this.#ask({ type: 'arm', name });
  }

  async addArm(arm: ArmFiles): Promise<void> {
    await this.#ask({ type: 'add-arm', arm });
  }

  /** What happened since the arm was chosen. */
  async report(): Promise<ReplayReport> {
    const answer = await this.#ask({ type: 'report' });
    return answer.type === 'report' ? answer.report : { notes: [], latenessMs: [], sentBytes: 0 };
  }

  /** The greatest deviation of a replayed body from its captured size on the wire, as a share. */
  get encodingDeviation(): number {
    return this.#encodingDeviation;
  }

  /** The address to load for a captured one: HTTPS where a plain page is replayed as in production. */
  addressOf(capturedUrl: string): string {
    return this.#asProduction ? capturedUrl.replace(/^http:/, 'https:') : capturedUrl;
  }

  /** The captured address that a replayed one stands for. */
  capturedUrl(url: string): string {
    if (!this.#asProduction || !url.startsWith('https:') || this.#secureUrls.has(url)) return url;
    return this.#plainHosts.has(new URL(url).host) ? url.replace(/^https:/, 'http:') : url;
  }

  async close(): Promise<void> {
    this.#browsers = [];
    if (this.#hasEnded) return;
    const ended = new Promise<void>((resolve) => {
      this.#child.once('exit', () => resolve());
      setTimeout(() => this.#child.kill('SIGKILL'), 2_000).unref();
    });
    if (this.#child.connected) this.#ask({ type: 'close' }).catch(() => undefined);
    await ended;
  }
}
