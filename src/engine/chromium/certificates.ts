import { createHash, X509Certificate } from 'node:crypto';
import { connect } from 'node:tls';
import { generate } from 'selfsigned';
import type { CertificateOffer } from '../errors.ts';

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
                host: url.host,
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
