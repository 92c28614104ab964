import type { ChildProcess } from 'node:child_process';
import type { ReplayNote } from '../../core/measure/run.ts';
import { makeCertificate, type OwnCertificate } from '../chromium/certificates.ts';
import { launchChromium, type LaunchedBrowser } from '../chromium/launch.ts';
import { Trouble } from '../errors.ts';
import { startEngineProcess } from '../processes.ts';
import type { FromReplay, ReplayLoad, ToReplay } from './messages.ts';

/** The replay process, spoken to one message at a time. */
export class Replay {
  #child: ChildProcess;
  #waiting: { resolve: (answer: FromReplay) => void; reject: (error: Error) => void }[] = [];
  #hosts: { host: string; port: number; listen: number }[] = [];
  #certificate: OwnCertificate;

  private constructor(child: ChildProcess, certificate: OwnCertificate) {
    this.#child = child;
    this.#certificate = certificate;
    child.on('message', (answer: FromReplay) => {
      const next = this.#waiting.shift();
      if (answer.type === 'failed')
        next?.reject(new Trouble('measuring', `Replay failed: ${answer.message}`));
      else next?.resolve(answer);
    });
    child.on('exit', () => {
      for (const one of this.#waiting.splice(0))
        one.reject(new Trouble('measuring', 'The replay process ended unexpectedly. Measure again.'));
    });
  }

  /** Starts a replay process on a capture. */
  static async start(load: Omit<ReplayLoad, 'certificate'>): Promise<Replay> {
    const names = new Set(
      [...load.exchanges.map((one) => one.url), load.documentUrl].map((url) => new URL(url).hostname),
    );
    const certificate = await makeCertificate([...names]);
    const child = startEngineProcess('replay/replay-process.ts');
    const replay = new Replay(child, certificate);
    try {
      const answer = await replay.#ask({
        type: 'load',
        load: { ...load, certificate: { key: certificate.key, cert: certificate.cert } },
      });
      if (answer.type === 'ready') replay.#hosts = answer.hosts;
      return replay;
    } catch (error) {
      child.kill('SIGKILL');
      throw error;
    }
  }

  #ask(message: ToReplay): Promise<FromReplay> {
    return new Promise((resolve, reject) => {
      if (!this.#child.connected) {
        reject(new Trouble('measuring', 'The replay process has ended. Measure again.'));
        return;
      }
      this.#waiting.push({ resolve, reject });
      this.#child.send(message);
    });
  }

  /** Every captured host and port, loopback ones too, mapped to where it is replayed. */
  get hostRules(): string[] {
    return this.#hosts.map(({ host, port, listen }) => `MAP ${host}:${port} 127.0.0.1:${listen}`);
  }

  /** A browser that finds the captured hosts here, and nothing else anywhere. */
  launchBrowser(): Promise<LaunchedBrowser> {
    return launchChromium({ hostRules: this.hostRules, acceptedKeys: [this.#certificate.publicKeyHash] });
  }

  async chooseArm(name: string): Promise<void> {
    await this.#ask({ type: 'arm', name });
  }

  async addArm(arm: ReplayLoad['arms'][number]): Promise<void> {
    await this.#ask({ type: 'add-arm', arm });
  }

  /** Loose matches and misses since the arm was chosen. */
  async notes(): Promise<ReplayNote[]> {
    const answer = await this.#ask({ type: 'notes' });
    return answer.type === 'notes' ? answer.notes : [];
  }

  /** Serves an arm for looking at by hand; gives its address. */
  async preview(arm: string): Promise<string> {
    const answer = await this.#ask({ type: 'preview', arm });
    if (answer.type !== 'preview') throw new Trouble('measuring', 'The treated page could not be served.');
    return answer.url;
  }

  async close(): Promise<void> {
    const ended = new Promise<void>((resolve) => {
      this.#child.once('exit', () => resolve());
      setTimeout(() => this.#child.kill('SIGKILL'), 2_000).unref();
    });
    if (this.#child.connected) this.#ask({ type: 'close' }).catch(() => undefined);
    await ended;
  }
}
