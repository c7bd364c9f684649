import { createHash, generateKeyPairSync, randomBytes, sign, type KeyObject } from 'node:crypto';

/** Flags of what it says (Web Authentication, section 6.1): somebody was there, was recognised, and a new key is in it. */
const [PRESENT, RECOGNISED, HAS_KEY] = [0x01, 0x04, 0x40];
const text = (bytes: Buffer) => bytes.toString('base64url');
const sha256 = (bytes: Buffer | string) => createHash('sha256').update(bytes).digest();

interface Asked {
  challenge: string;
  origin: string;
  host: string;
}

/** A device with one passkey, as far as a browser would have it. */
export class SoftAuthenticator {
  readonly id = randomBytes(16);
  private readonly key: KeyObject;
  private readonly publicKey: KeyObject;
  counter = 0;
  /** Whether it has looked at its owner. */
  recognises = true;

  constructor() {
    ({ privateKey: this.key, publicKey: this.publicKey } = generateKeyPairSync('ec', { namedCurve: 'P-256' }));
  }

  /** Section 7.1: what a browser replies that has made a passkey. */
  made({ challenge, origin, host }: Asked): object {
    const attestation = Buffer.concat([
      // A map of three (RFC 8949): fmt “none”, attStmt {}, authData.
      Buffer.from('a363666d74646e6f6e656761747453746d74a0686175746844617461', 'hex'),
      byteString(this.says(host, HAS_KEY)),
    ]);
    return this.reply({ clientDataJSON: client('webauthn.create', challenge, origin), attestationObject: attestation });
  }

  /** Section 7.2: what one replies that signs in. */
  signed({ challenge, origin, host }: Asked): object {
    this.counter += 1;
    const [clientData, data] = [client('webauthn.get', challenge, origin), this.says(host, 0)];
    const signature = sign('sha256', Buffer.concat([data, sha256(clientData)]), this.key);
    return this.reply({ clientDataJSON: clientData, authenticatorData: data, signature });
  }

  private reply(response: Record<string, Buffer>): object {
    const id = text(this.id);
    return {
      ...{ id, rawId: id, type: 'public-key', clientExtensionResults: {} },
      response: Object.fromEntries(Object.entries(response).map(([name, bytes]) => [name, text(bytes)])),
    };
  }

  private says(host: string, more: number): Buffer {
    const flags = PRESENT! | (this.recognises ? RECOGNISED! : 0) | more;
    const counter = Buffer.alloc(4);
    counter.writeUInt32BE(this.counter);
    const start = Buffer.concat([sha256(host), Buffer.from([flags]), counter]);
    if (more === 0) return start;
    const length = Buffer.from([0, this.id.length]);
    return Buffer.concat([start, Buffer.alloc(16), length, this.id, this.coseKey()]);
  }

  /** RFC 9053, section 7.1.1: an elliptic curve key for ES256. */
  private coseKey(): Buffer {
    const { x, y } = this.publicKey.export({ format: 'jwk' });
    const [px, py] = [x!, y!].map((one) => byteString(Buffer.from(one, 'base64url')));
    return Buffer.concat([
      Buffer.from('a5010203262001', 'hex'),
      Buffer.from('21', 'hex'),
      px!,
      Buffer.from('22', 'hex'),
      py!,
    ]);
  }
}

/** RFC 8949, major type 2. */
function byteString(bytes: Buffer): Buffer {
  const { length } = bytes;
  return Buffer.concat([
    length < 256 ? Buffer.from([0x58, length]) : Buffer.from([0x59, length >> 8, length & 255]),
    bytes,
  ]);
}

function client(type: string, challenge: string, origin: string): Buffer {
  return Buffer.from(JSON.stringify({ type, challenge, origin, crossOrigin: false }));
}
