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
