import type { CDPSession, Protocol } from 'puppeteer-core';

type Space = Protocol.Network.IPAddressSpace;

/** An answer is told of twice, by its headers and by where it came from, in either order: so long the one waits for the other, ms. */
const TOLD_WITHIN_MS = 1_000;

/** From which network a session's answers came: this machine, the network that it is in, or the public one. */
export class AddressSpaces {
  #known = new Map<string, Space>();
  #waiting = new Map<string, (space: Space) => void>();

  constructor(session: CDPSession) {
    session.on('Network.responseReceivedExtraInfo', ({ requestId, resourceIPAddressSpace }) => {
      this.#known.set(requestId, resourceIPAddressSpace);
      this.#waiting.get(requestId)?.(resourceIPAddressSpace);
    });
  }

  /** Of an answer that has come; unknown where that is not told. */
  async of(networkId: string | undefined): Promise<Space> {
    const known = networkId === undefined ? 'Unknown' : this.#known.get(networkId);
    if (known !== undefined) return known;
    return new Promise((resolve) => {
      const told = (space: Space) => {
        clearTimeout(limit);
        this.#waiting.delete(networkId!);
        resolve(space);
      };
      const limit = setTimeout(told, TOLD_WITHIN_MS, 'Unknown');
      this.#waiting.set(networkId!, told);
    });
  }
}
