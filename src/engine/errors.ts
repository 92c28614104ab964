/** Why something could not be done, in a plain sentence, and whose fault it is. */
export type TroubleKind = 'input' | 'certificate' | 'measuring' | 'cancelled';

/** An error that is told to the user as it is: what happened and what to do. */
export class Trouble extends Error {
  readonly kind: TroubleKind;
  /** For a certificate of a server's own making: what may be accepted. */
  readonly certificate: CertificateOffer | null;

  constructor(kind: TroubleKind, message: string, certificate: CertificateOffer | null = null) {
    super(message);
    this.name = 'Trouble';
    this.kind = kind;
    this.certificate = certificate;
  }
}

/** A certificate that was met and can be accepted for one host. */
export interface CertificateOffer {
  host: string;
  /** SHA-256 of the public key, base64: what Chromium is told to accept. */
  publicKeyHash: string;
  subject: string;
  validTo: string;
}

/** Throws when the work was cancelled. */
export function stopIfCancelled(signal: AbortSignal | undefined): void {
  if (signal?.aborted) throw new Trouble('cancelled', 'Cancelled. What was stored before is unchanged.');
}

/** What the browser's driver says when the browser, a page or a frame went away under it. */
const WENT_AWAY =
  /Target closed|Session closed|detached Frame|frame (was|got) detached|Connection closed|Target crashed|Page crashed|Navigating frame was detached/i;

/** Whether an error says that the browser, a page or a frame went away. */
export function wentAway(error: unknown): boolean {
  return WENT_AWAY.test(error instanceof Error ? error.message : String(error));
}

/** An error of the work as a sentence; that Chromium went away in the middle is told as that. */
export function inPlainWords(error: unknown): Trouble {
  if (error instanceof Trouble) return error;
  const text = (error instanceof Error ? error.message : String(error)).split('\n')[0]!;
  return new Trouble(
    'measuring',
    wentAway(error)
      ? 'Chromium, or a page in it, ended in the middle of the work. Nothing stored was changed; try again.'
      : `Measuring broke off: ${text}. Nothing stored was changed; try again.`,
  );
}
