import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { createHash, randomBytes, type JsonWebKey } from 'node:crypto';
import { once } from 'node:events';
import type { AddressInfo } from 'node:net';
import { text } from 'node:stream/consumers';
import { connect } from 'node:tls';
import { AcmeProblem, Authority, checkSignature, thumbprint } from './authority.js';

/** What it can be told to do, and remembers. */
export interface AcmeOptions {
  /** For how many days a certificate is valid. */
  days: number;
  /** The port at which names are asked for their answers: 80 in the world, another one on a single machine. */
  provePort: number;
  /** The port at which names prove themselves by TLS (RFC 8737): 443 in the world. */
  proveTlsPort: number;
}

interface Order {
  names: string[];
  /** Which names have been proven. */
  proven: Set<string>;
  invalid: string | null;
  certificate: string | null;
}

interface Jws {
  protected: string;
  payload: string;
  signature: string;
}

/** How a name may prove itself. */
const WAYS = ['http-01', 'tls-alpn-01'] as const;
type Way = (typeof WAYS)[number];
/** The extension id-pe-acmeIdentifier, critical, up to its 32 octets (RFC 8737, section 6.1). */
const ACME_IDENTIFIER = Buffer.from('06082b0601050507011f0101ff04220420', 'hex');

const random = () => randomBytes(16).toString('base64url');

/**
 * A small certificate authority that speaks ACME (RFC 8555): accounts, orders, HTTP-01, TLS-ALPN-01 (RFC 8737), certificates. It believes a name to
 * be whose who answers for it at this machine. For tests, and for trying TLS without the world.
 */
export class AcmeServer {
  /** How often a certificate was signed. */
  signed = 0;
  /** What the next orders are refused with; null where they are not. */
  refusal: string | null = null;
  private readonly nonces = new Set<string>();
  private readonly accounts = new Map<string, JsonWebKey>();
  private readonly orders = new Map<string, Order>();
  /** Of each name that is to be proven: the order and the token. */
  private readonly challenges = new Map<string, { order: Order; name: string; token: string }>();

  private constructor(
    readonly authority: Authority,
    private readonly server: Server,
    readonly options: AcmeOptions,
  ) {}

  static async start(options: AcmeOptions): Promise<AcmeServer> {
    const acme: AcmeServer = new AcmeServer(
      await Authority.create(),
      createServer((request, response) => void acme.take(request, response)),
      options,
    );
    acme.server.listen(0, '127.0.0.1');
    await once(acme.server, 'listening');
    return acme;
  }

  get directory(): string {
    return `${this.base}/directory`;
  }

  stop(): void {
    this.server.close();
    this.server.closeAllConnections();
  }

  private get base(): string {
    return `http://127.0.0.1:${(this.server.address() as AddressInfo).port}`;
  }

  private async take(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const nonce = random();
    this.nonces.add(nonce);
    response.setHeader('Replay-Nonce', nonce);
    try {
      const [, what = '', id = '', way = ''] = request.url!.split('/');
      if (what === 'directory') return send(response, 200, this.directoryOf());
      if (what === 'nonce') return void response.writeHead(200).end();
      const jws = JSON.parse(await text(request)) as Jws;
      await this.respond(response, { what, id, way }, this.verified(jws, request.url!));
    } catch (error) {
      const problem = error instanceof AcmeProblem ? error : new AcmeProblem(500, 'serverInternal', String(error));
      const type = `urn:ietf:params:acme:error:${problem.type}`;
      send(
        response,
        problem.status,
        { type, detail: problem.message, status: problem.status },
        'application/problem+json',
      );
    }
  }

  private directoryOf(): object {
    const { base } = this;
    return {
      newNonce: `${base}/nonce`,
      newAccount: `${base}/account`,
      newOrder: `${base}/orders`,
      revokeCert: `${base}/revoke`,
      keyChange: `${base}/keys`,
      meta: { termsOfService: `${base}/terms` },
    };
  }

  /** Section 6.2 to 6.5: the nonce is one of ours and used once, the address is the right one, the signature good. */
  private verified(jws: Jws, url: string): { payload: unknown; jwk: JsonWebKey; account: string | undefined } {
    const header = JSON.parse(Buffer.from(jws.protected, 'base64url').toString()) as {
      nonce: string;
      url: string;
      jwk?: JsonWebKey;
      kid?: string;
    };
    if (!this.nonces.delete(header.nonce)) throw new AcmeProblem(400, 'badNonce', 'The nonce is not one of ours');
    if (header.url !== this.base + url)
      throw new AcmeProblem(401, 'unauthorized', 'The request is for another address');
    const jwk = header.jwk ?? this.accounts.get(header.kid ?? '');
    if (!jwk) throw new AcmeProblem(400, 'accountDoesNotExist', 'There is no such account');
    checkSignature(jws, jwk);
    const payload =
      jws.payload === '' ? null : (JSON.parse(Buffer.from(jws.payload, 'base64url').toString()) as unknown);
    return { payload, jwk, account: header.kid };
  }

  private async respond(
    response: ServerResponse,
    { what, id, way }: Record<'what' | 'id' | 'way', string>,
    { payload, jwk, account }: ReturnType<AcmeServer['verified']>,
  ): Promise<void> {
    switch (what) {
      case 'account':
        return this.account(response, jwk);
      case 'accounts':
        return send(response, 200, { status: 'valid' });
      case 'orders':
        return this.newOrder(response, payload as { identifiers: { value: string }[] });
      case 'order':
        return send(response, 200, this.orderView(id));
      case 'authz':
        return send(response, 200, this.authzView(id));
      case 'challenge':
        await this.prove(id, way as Way, this.accounts.get(account!)!);
        return send(response, 200, this.challengeView(id, way as Way));
      case 'finalize': {
        const order = this.orderOf(id);
        if (order.proven.size < order.names.length)
          throw new AcmeProblem(403, 'orderNotReady', 'Not all names are proven');
        const csr = Buffer.from((payload as { csr: string }).csr, 'base64url');
        order.certificate = await this.authority.sign(csr, order.names, this.options.days);
        this.signed += 1;
        return send(response, 200, this.orderView(id));
      }
      case 'certificate':
        response.writeHead(200, { 'Content-Type': 'application/pem-certificate-chain' });
        return void response.end(this.orderOf(id).certificate);
      default:
        throw new AcmeProblem(404, 'malformed', 'There is nothing here');
    }
  }

  private account(response: ServerResponse, jwk: JsonWebKey): void {
    const url = `${this.base}/accounts/${thumbprint(jwk)}`;
    const status = this.accounts.has(url) ? 200 : 201;
    this.accounts.set(url, jwk);
    response.setHeader('Location', url);
    send(response, status, { status: 'valid' });
  }

  private newOrder(response: ServerResponse, { identifiers }: { identifiers: { value: string }[] }): void {
    if (this.refusal !== null) throw new AcmeProblem(429, 'rateLimited', this.refusal);
    const order: Order = {
      names: identifiers.map(({ value }) => value),
      proven: new Set(),
      invalid: null,
      certificate: null,
    };
    const id = random();
    this.orders.set(id, order);
    order.names.forEach((name, index) => this.challenges.set(`${id}-${index}`, { order, name, token: random() }));
    response.setHeader('Location', `${this.base}/order/${id}`);
    send(response, 201, this.orderView(id));
  }

  private orderOf(id: string): Order {
    const order = this.orders.get(id);
    if (!order) throw new AcmeProblem(404, 'malformed', 'There is no such order');
    return order;
  }

  private orderView(id: string): object {
    const order = this.orderOf(id);
    const isReady = order.proven.size === order.names.length;
    const status = order.invalid !== null ? 'invalid' : order.certificate ? 'valid' : isReady ? 'ready' : 'pending';
    return {
      status,
      identifiers: order.names.map((value) => ({ type: 'dns', value })),
      authorizations: order.names.map((_name, index) => `${this.base}/authz/${id}-${index}`),
      finalize: `${this.base}/finalize/${id}`,
      ...(order.certificate && { certificate: `${this.base}/certificate/${id}` }),
    };
  }

  private authzView(id: string): object {
    const { name } = this.challengeOf(id);
    return {
      status: this.statusOf(id),
      identifier: { type: 'dns', value: name },
      challenges: WAYS.map((way) => this.challengeView(id, way)),
    };
  }

  private challengeView(id: string, way: Way): object {
    const { order, token } = this.challengeOf(id);
    const status = this.statusOf(id);
    const error = { type: 'urn:ietf:params:acme:error:unauthorized', detail: order.invalid };
    return {
      type: way,
      url: `${this.base}/challenge/${id}/${way}`,
      token,
      status,
      ...(status === 'invalid' && { error }),
    };
  }

  private challengeOf(id: string): { order: Order; name: string; token: string } {
    const challenge = this.challenges.get(id);
    if (!challenge) throw new AcmeProblem(404, 'malformed', 'There is no such challenge');
    return challenge;
  }

  private statusOf(id: string): 'valid' | 'invalid' | 'pending' {
    const { order, name } = this.challengeOf(id);
    if (order.proven.has(name)) return 'valid';
    return order.invalid === null ? 'pending' : 'invalid';
  }

  /** Asks the name for its answer, at this machine, whatever the DNS says. */
  private async prove(id: string, way: Way, jwk: JsonWebKey): Promise<void> {
    const { order, name, token } = this.challengeOf(id);
    const expected = `${token}.${thumbprint(jwk)}`;
    const isProven =
      way === 'http-01' ? await this.isProvenByHttp(name, token, expected) : await this.isProvenByTls(name, expected);
    if (isProven) order.proven.add(name);
    else order.invalid = `${name} does not prove to be yours`;
  }

  /** RFC 8555, section 8.3. */
  private async isProvenByHttp(name: string, token: string, expected: string): Promise<boolean> {
    const url = `http://127.0.0.1:${this.options.provePort}/.well-known/acme-challenge/${token}`;
    const said = await fetch(url, { headers: { host: name }, redirect: 'manual' }).then(
      (response) => response.text(),
      (error: unknown) => String(error),
    );
    return said.trim() === expected;
  }

  /** RFC 8737, section 3: the protocol is agreed upon, and the certificate is for the name and has the proof in it. */
  private async isProvenByTls(name: string, expected: string): Promise<boolean> {
    const socket = connect({
      ...{ host: '127.0.0.1', port: this.options.proveTlsPort, servername: name },
      ...{ ALPNProtocols: ['acme-tls/1'], rejectUnauthorized: false },
    });
    try {
      await once(socket, 'secureConnect');
      const certificate = socket.getPeerX509Certificate();
      const proof = Buffer.concat([ACME_IDENTIFIER, createHash('sha256').update(expected).digest()]);
      return (
        socket.alpnProtocol === 'acme-tls/1' &&
        certificate?.subjectAltName === `DNS:${name}` &&
        certificate.raw.includes(proof)
      );
    } catch {
      return false;
    } finally {
      socket.destroy();
    }
  }
}

function send(response: ServerResponse, status: number, body: object, type = 'application/json'): void {
  response.writeHead(status, { 'Content-Type': type }).end(JSON.stringify(body));
}
