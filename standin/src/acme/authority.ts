import { createHash, createPublicKey, randomBytes, verify, webcrypto, type JsonWebKey } from 'node:crypto';
import {
  BasicConstraintsExtension,
  cryptoProvider,
  KeyUsageFlags,
  KeyUsagesExtension,
  Pkcs10CertificateRequest,
  SubjectAlternativeNameExtension,
  X509CertificateGenerator,
  type X509Certificate,
} from '@peculiar/x509';

const ALGORITHM = { name: 'ECDSA', namedCurve: 'P-256', hash: 'SHA-256' };
const DAY_MS = 24 * 60 * 60 * 1000;

/** A problem document of ACME (RFC 8555, section 6.7). */
export class AcmeProblem extends Error {
  constructor(
    readonly status: number,
    readonly type: string,
    detail: string,
  ) {
    super(detail);
  }
}

/** What a request says, once its signature has been found good. */
export interface Signed {
  payload: unknown;
  /** The account’s key. */
  jwk: JsonWebKey;
}

/** Signs certificates for whoever it was told that a name is theirs; known to nobody. */
export class Authority {
  private constructor(
    private readonly keys: webcrypto.CryptoKeyPair,
    private readonly certificate: X509Certificate,
  ) {}

  static async create(): Promise<Authority> {
    cryptoProvider.set(webcrypto as never);
    const keys = (await webcrypto.subtle.generateKey(ALGORITHM, true, ['sign', 'verify'])) as webcrypto.CryptoKeyPair;
    const certificate = await X509CertificateGenerator.createSelfSigned({
      serialNumber: '01',
      name: 'CN=Simulated authority',
      notBefore: new Date(Date.now() - DAY_MS),
      notAfter: new Date(Date.now() + 3650 * DAY_MS),
      signingAlgorithm: ALGORITHM,
      keys: keys as never,
      extensions: [
        new BasicConstraintsExtension(true, undefined, true),
        new KeyUsagesExtension(KeyUsageFlags.keyCertSign | KeyUsageFlags.cRLSign, true),
      ],
    });
    return new Authority(keys, certificate);
  }

  /** What a browser of this world trusts, PEM. */
  get root(): string {
    return this.certificate.toString('pem');
  }

  /**
   * A chain for a request (PKCS #10), PEM.
   *
   * @throws AcmeProblem where it asks for other names than those that were proven
   */
  async sign(csr: Buffer, names: readonly string[], days: number): Promise<string> {
    const request = new Pkcs10CertificateRequest(csr);
    const extension = request.extensions.find((one) => one instanceof SubjectAlternativeNameExtension);
    const asked = extension?.names.items.map(({ value }) => value) ?? [];
    if ([...asked].sort().join() !== [...names].sort().join())
      throw new AcmeProblem(
        403,
        'badCSR',
        `The request is for ${asked.join(', ')}, and the order for ${names.join(', ')}`,
      );
    const certificate = await X509CertificateGenerator.create({
      serialNumber: randomBytes(8).toString('hex'),
      subject: `CN=${names[0]}`,
      issuer: this.certificate.subject,
      notBefore: new Date(Date.now() - 60_000),
      notAfter: new Date(Date.now() + days * DAY_MS),
      signingAlgorithm: ALGORITHM,
      publicKey: request.publicKey,
      signingKey: this.keys.privateKey as never,
      extensions: [new SubjectAlternativeNameExtension(names.map((value) => ({ type: 'dns', value })))],
    });
    return `${certificate.toString('pem')}\n${this.root}\n`;
  }
}

/** The thumbprint of a key (RFC 7638), of which the answer to a challenge is made (RFC 8555, section 8.1). */
export function thumbprint({ crv, e, kty, n, x, y }: JsonWebKey): string {
  const members = kty === 'EC' ? { crv, kty, x, y } : { e, kty, n };
  return createHash('sha256').update(JSON.stringify(members)).digest('base64url');
}

/**
 * Looks whether a request was signed with a key (RFC 7515; ES256 and RS256).
 *
 * @throws AcmeProblem where it was not
 */
export function checkSignature(jws: { protected: string; payload: string; signature: string }, jwk: JsonWebKey): void {
  const key = createPublicKey({ key: jwk, format: 'jwk' });
  const options = jwk.kty === 'EC' ? ({ key, dsaEncoding: 'ieee-p1363' } as const) : key;
  const signed = Buffer.from(`${jws.protected}.${jws.payload}`);
  if (!verify('sha256', signed, options, Buffer.from(jws.signature, 'base64url')))
    throw new AcmeProblem(401, 'malformed', 'The signature is not that of the key');
}
