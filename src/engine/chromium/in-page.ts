import type { CDPSession, Protocol } from 'puppeteer-core';
import type * as functions from '../../in-page/index.ts';
import { bundleOf } from './bundles.ts';

type Functions = typeof functions;
type Name = keyof Functions;

/** Its name is nothing that a page gets to see. */
const WORLD = 'wistrel';
/** The document that a world belonged to is gone. */
const GONE = /Cannot find context|context was destroyed|uniqueContextId not found/i;

/** Calls what `src/in-page` holds, in a world of its own of the page that a session is on. */
export class InPage {
  #session: CDPSession;
  #contextId: number | null = null;

  constructor(session: CDPSession) {
    this.#session = session;
  }

  /**
   * Calls a function in the page's main frame, with plain data.
   *
   * @throws Error with what the function threw
   */
  async call<N extends Name>(
    name: N,
    ...args: Parameters<Functions[N]>
  ): Promise<Awaited<ReturnType<Functions[N]>>> {
    const { value } = await this.#call(name, args, true);
    return value as Awaited<ReturnType<Functions[N]>>;
  }

  /** The same for a function that gives an element: what the protocol knows it by, or null for none. */
  async handle<N extends Name>(name: N, ...args: Parameters<Functions[N]>): Promise<string | null> {
    return (await this.#call(name, args, false)).objectId ?? null;
  }

  async #call(
    name: Name,
    args: readonly unknown[],
    returnByValue: boolean,
  ): Promise<Protocol.Runtime.RemoteObject> {
    for (let attempt = 0; ; attempt++) {
      const context = (this.#contextId ??= await this.#enter());
      try {
        const { result, exceptionDetails } = await this.#session.send('Runtime.callFunctionOn', {
          functionDeclaration: `(...args) => wistrel[${JSON.stringify(name)}](...args)`,
          executionContextId: context,
          arguments: args.map((value) => ({ value })),
          awaitPromise: true,
          returnByValue,
        });
        if (!exceptionDetails) return result;
        throw new Error(exceptionDetails.exception?.description ?? exceptionDetails.text);
      } catch (error) {
        if (attempt > 0 || !GONE.test(error instanceof Error ? error.message : String(error))) throw error;
        this.#contextId = null;
      }
    }
  }

  /** Calls a function in each new document of the main frame before anything of the page runs. */
  async callFirst(name: Name): Promise<void> {
    await this.#session.send('Page.addScriptToEvaluateOnNewDocument', {
      source: `globalThis.wistrel ??= ${bundleOf('index.ts')}; if (top === window) wistrel[${JSON.stringify(name)}]();`,
      worldName: WORLD,
    });
  }

  /** Makes the world in the document that is there now. */
  async #enter(): Promise<number> {
    const { frameTree } = await this.#session.send('Page.getFrameTree');
    const { executionContextId } = await this.#session.send('Page.createIsolatedWorld', {
      frameId: frameTree.frame.id,
      worldName: WORLD,
    });
    const { exceptionDetails } = await this.#session.send('Runtime.evaluate', {
      expression: `globalThis.wistrel ??= ${bundleOf('index.ts')}; 0`,
      contextId: executionContextId,
    });
    if (exceptionDetails) throw new Error(exceptionDetails.exception?.description ?? exceptionDetails.text);
    return executionContextId;
  }
}
