import { X509Certificate } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { hostname } from 'node:os';
import { join } from 'node:path';
import selfsigned from 'selfsigned';

/** The certificate and the key under which mail programs hand their mail in. */
export interface Identity {
  cert: string;
  key: string;
  /** SHA-256 of the certificate, in the form in which mail programs show it. */
  fingerprint: string;
}

/** Where they lie in the data folder. */
export const CERTIFICATE_FILES = ['submission.crt', 'submission.key'] as const;
const YEARS = 10;

/**
 * Reads `submission.crt` and `submission.key` of the data folder. Where there are none, makes them: nobody vouches for
 * such a certificate, so mail programs ask once. The owner may put others in their place.
 */
export async function readOrMakeIdentity(dataDir: string): Promise<Identity> {
  const [certFile, keyFile] = CERTIFICATE_FILES.map((name) => join(dataDir, name)) as [string, string];
  if (!existsSync(certFile) || !existsSync(keyFile)) {
    const made = await makeIdentity();
    writeFileSync(keyFile, made.private, { mode: 0o600 });
    writeFileSync(certFile, made.cert);
  }
  return identityOf({ cert: readFileSync(certFile, 'utf8'), key: readFileSync(keyFile, 'utf8') });
}

/** A certificate with its key, as mail programs show it. */
export function identityOf({ cert, key }: { cert: string; key: string }): Identity {
  return { cert, key, fingerprint: new X509Certificate(cert).fingerprint256 };
}

function makeIdentity(): Promise<{ private: string; cert: string }> {
  const name = hostname();
  const notAfterDate = new Date();
  notAfterDate.setFullYear(notAfterDate.getFullYear() + YEARS);
  return selfsigned.generate([{ name: 'commonName', value: name }], {
    algorithm: 'sha256',
    keyType: 'ec',
    curve: 'P-256',
    notAfterDate,
    extensions: [
      {
        name: 'subjectAltName',
        altNames: [
          { type: 2, value: name },
          { type: 2, value: 'localhost' },
          { type: 7, ip: '127.0.0.1' },
        ],
      },
    ],
  });
}
