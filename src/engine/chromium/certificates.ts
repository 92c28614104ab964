import { createHash, X509Certificate } from 'node:crypto';
import { connect } from 'node:tls';
import { generate } from 'selfsigned';
import { Trouble, type CertificateOffer } from '../errors.ts';

/** Key and certificate, PEM, and the hash by which Chromium is told to accept them. */
export interface OwnCertificate {
  key: string;
  cert: string;
  publicKeyHash: string;
}

/** Makes a certificate of our own for host names, valid two years. */
export async function makeCertificate(hosts: readonly string[]): Promise<OwnCertificate> {
  const names = hosts.map((value) =>
    /^[\d.]+$/.test(value) ? { type: 7 as const, ip: value } : { type: 2 as const, value },
  );
  const notAfterDate = new Date(Date.now() + 730 * 86_400_000);
  const made = await generate([{ name: 'commonName', value: hosts[0] ?? 'localhost' }], {
    keySize: 2048,
    algorithm: 'sha256',
    notAfterDate,
    extensions: [{ name: 'subjectAltName', altNames: names }],
  });
  return { key: made.private, cert: made.cert, publicKeyHash: publicKeyHash(new X509Certificate(made.cert)) };
}

/** SHA-256 of a certificate's public key (its SubjectPublicKeyInfo), base64. */
export function publicKeyHash(certificate: X509Certificate): string {
  const der = certificate.publicKey.export({ type: 'spki', format: 'der' });
  return createHash('sha256').update(der).digest('base64');
}

/** A certificate of a server's own making that the user accepted, and for which host. */
export interface AcceptedCertificate {
  /** With its port where that is not 443; `EVERY_HOST` for all that show it. */
  host: string;
  publicKeyHash: string;
}

/** What is accepted for a single call is accepted of every host. */
export const EVERY_HOST = '*';

/**
 * Chromium accepts a key, whichever host shows it. What was accepted for some hosts is accepted for these alone: what
 * others sent with it is not taken.
 *
 * @param hosts what a page has asked over TLS, with ports
 * @returns those that showed one and may
 * @throws Trouble with what may be accepted, where another host shows such a certificate
 */
export async function trustedByUser(
  hosts: readonly string[],
  accepted: readonly AcceptedCertificate[],
): Promise<string[]> {
  if (accepted.length === 0) return [];
  const trusted: string[] = [];
  const lent = new Map<string, CertificateOffer>();
  for (const host of hosts) {
    const shown = await readCertificate(new URL(`https://${host}/`));
    const of = accepted.filter((one) => one.publicKeyHash === shown?.publicKeyHash);
    if (!shown || of.length === 0) continue;
    if (of.some((one) => one.host === EVERY_HOST || one.host === host)) trusted.push(host);
    else lent.set(shown.publicKeyHash, joined(lent.get(shown.publicKeyHash), shown));
  }
  const [offer] = lent.values();
  if (!offer) return trusted;
  throw new Trouble(
    'certificate',
    `${offer.hosts.join(', ')}: the certificate shown there (${offer.subject}) was accepted for another host only. Nothing stored was changed. Accept it there as well to go on.`,
    offer,
  );
}

const joined = (before: CertificateOffer | undefined, shown: CertificateOffer): CertificateOffer => ({
  ...shown,
  hosts: [...(before?.hosts ?? []), ...shown.hosts],
});

/** Asks a host for its certificate, whoever signed it; null when it gives none. */
export function readCertificate(url: URL): Promise<CertificateOffer | null> {
  const port = Number(url.port || 443);
  const name = url.hostname.replace(/^\[|\]$/g, '');
  // Node's own look-up does not know that *.localhost is loopback (RFC 6761, section 6.3).
  const host = /(^|\.)localhost$/.test(name) ? '127.0.0.1' : name;
  return new Promise((resolve) => {
    const socket = connect(
      {
        host,
        port,
        servername: /^[\d.:]+$/.test(name) ? undefined : name,
        rejectUnauthorized: false,
        timeout: 5_000,
      },
      () => {
        const certificate = socket.getPeerX509Certificate();
        socket.destroy();
        resolve(
          certificate
            ? {
                hosts: [url.host],
                publicKeyHash: publicKeyHash(certificate),
                subject: certificate.subject.replaceAll('\n', ', '),
                validTo: certificate.validTo,
              }
            : null,
        );
      },
    );
    const fail = () => {
      socket.destroy();
      resolve(null);
    };
    socket.on('error', fail);
    socket.on('timeout', fail);
  });
}
