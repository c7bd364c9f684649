import { createECDH, createPublicKey, randomBytes, verify, type ECDH } from 'node:crypto';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { dirname } from 'node:path';
import ece from 'http_ece';

const CURVE = 'prime256v1';
const SECRET_BYTES = 16;
const MAX_PUSHES_SHOWN = 50;
/** RFC 8030, section 7.2: a push service need not take more. */
export const MAX_PUSH_BYTES = 4096;
/** RFC 8292, section 2: a token is good for a day at most. */
const LONGEST_TOKEN_SECONDS = 24 * 3600;

/** What the phone needs to find itself again, all base64url. */
interface Kept {
  id: string;
  privateKey: string;
  auth: string;
}

/** What a browser hands to an application so that it can be told (Push API, PushSubscription.toJSON). */
export interface PushSubscription {
  endpoint: string;
  keys: { p256dh: string; auth: string };
}

export interface Shown {
  at: Date;
  title: string;
  detail: string;
}

/**
 * A simulated phone with its push service: it takes messages as RFC 8030 has it, from whoever signs them (RFC 8292), and
 * shows what it can decrypt (RFC 8291). Its keys stay the same from start to start.
 */
export class Phone {
  /** What it shows, the newest first. */
  readonly shown: Shown[] = [];
  private readonly keys: ECDH = createECDH(CURVE);

  private constructor(private readonly kept: Kept) {
    this.keys.setPrivateKey(Buffer.from(kept.privateKey, 'base64url'));
  }

  /** The phone whose keys lie in a file; a new one where there is none. */
  static async of(file: string): Promise<Phone> {
    const known = await readFile(file, 'utf8').catch(() => null);
    if (known !== null) return new Phone(JSON.parse(known) as Kept);
    const keys = createECDH(CURVE);
    keys.generateKeys();
    const kept: Kept = {
      id: randomBytes(SECRET_BYTES).toString('base64url'),
      privateKey: keys.getPrivateKey().toString('base64url'),
      auth: randomBytes(SECRET_BYTES).toString('base64url'),
    };
    await mkdir(dirname(file), { recursive: true });
    await writeFile(file, JSON.stringify(kept), { mode: 0o600 });
    return new Phone(kept);
  }

  /** @param origin of the push service, as its address is written */
  subscription(origin: string): PushSubscription {
    return {
      endpoint: `${origin}/push/${this.kept.id}`,
      keys: { p256dh: this.keys.getPublicKey('base64url'), auth: this.kept.auth },
    };
  }

  /**
   * Takes a push message.
   *
   * @param origin of this push service: whom the signature must be meant for
   * @returns the HTTP status of the answer
   */
  take(id: string, headers: Record<string, string | undefined>, body: Buffer, origin: string): number {
    if (id !== this.kept.id) return 404;
    if (!isSigned(headers['authorization'] ?? '', origin)) return 403;
    if (headers['ttl'] === undefined || headers['content-encoding'] !== 'aes128gcm') return 400;
    try {
      const authSecret = Buffer.from(this.kept.auth, 'base64url');
      const text = ece.decrypt(body, { version: 'aes128gcm', privateKey: this.keys, authSecret }).toString('utf8');
      const { title, detail } = JSON.parse(text) as Omit<Shown, 'at'>;
      this.shown.unshift({ at: new Date(), title, detail });
      this.shown.length = Math.min(this.shown.length, MAX_PUSHES_SHOWN);
    } catch {
      // A real service cannot look inside, and says “201” whatever it is; the phone then shows nothing.
    }
    return 201;
  }
}

/** Whether the application server has signed for this push service, with the key that it names (RFC 8292, section 3). */
function isSigned(authorization: string, origin: string): boolean {
  const match = /^vapid t=([\w-]+)\.([\w-]+)\.([\w-]+), ?k=([\w-]+)$/.exec(authorization);
  if (!match) return false;
  const [, header, payload, signature, key] = match as unknown as string[];
  try {
    const point = Buffer.from(key!, 'base64url');
    const publicKey = createPublicKey({
      format: 'jwk',
      key: {
        kty: 'EC',
        crv: 'P-256',
        x: point.subarray(1, 33).toString('base64url'),
        y: point.subarray(33).toString('base64url'),
      },
    });
    const isGenuine = verify(
      'sha256',
      Buffer.from(`${header}.${payload}`),
      { key: publicKey, dsaEncoding: 'ieee-p1363' },
      Buffer.from(signature!, 'base64url'),
    );
    const { aud, exp } = JSON.parse(Buffer.from(payload!, 'base64url').toString()) as { aud: string; exp: number };
    const left = exp - Date.now() / 1000;
    return isGenuine && aud === origin && left > 0 && left <= LONGEST_TOKEN_SECONDS;
  } catch {
    return false;
  }
}
