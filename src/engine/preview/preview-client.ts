import type { ChildProcess } from 'node:child_process';
import { Trouble } from '../errors.ts';
import { startEngineProcess } from '../processes.ts';
import type { FromPreview, ToPreview } from './preview-process.ts';
import type { PreviewLoad } from './preview-server.ts';

/** What nobody has looked at for so long is closed, ms. */
const IDLE_MS = 1_800_000;

/** A page that is served for looking at by hand, by a process of its own. */
export class Preview {
  readonly url: string;
  #child: ChildProcess;

  private constructor(child: ChildProcess, url: string) {
    this.#child = child;
    this.url = url;
  }

  /** @throws Trouble in plain words where it cannot be served */
  static async open(load: PreviewLoad, idleMs = IDLE_MS): Promise<Preview> {
    const child = startEngineProcess('preview/preview-process.ts');
    const answer = await new Promise<FromPreview>((resolve) => {
      child.once('message', resolve);
      child.once('exit', () => resolve({ type: 'failed', message: 'what serves it has ended' }));
      child.send({ type: 'serve', load, idleMs } satisfies ToPreview);
    });
    if (answer.type === 'serving') return new Preview(child, answer.url);
    child.kill('SIGKILL');
    throw new Trouble('measuring', `The page could not be served: ${answer.message}. Try it again.`);
  }

  /** Whether it still serves. */
  get isOpen(): boolean {
    return this.#child.exitCode === null && this.#child.signalCode === null;
  }

  async close(): Promise<void> {
    if (!this.isOpen) return;
    const ended = new Promise((resolve) => this.#child.once('exit', resolve));
    this.#child.kill('SIGKILL');
    await ended;
  }
}
