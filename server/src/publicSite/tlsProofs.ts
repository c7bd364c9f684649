import type { Socket } from 'node:net';
import { createSecureContext, createServer, type Server } from 'node:tls';
import type { TlsFiles } from '../tls/tlsFiles.js';

/** The protocol by whose name an authority asks for a proof (RFC 8737, section 4). */
const PROOF_PROTOCOL = 'acme-tls/1';
/** The first words of whoever connects come soon. */
const HELLO_WITHIN_MS = 5000;
/** RFC 8446, section 5.1: what a handshake begins with, its length at the end; and the most that may follow. */
const HANDSHAKE = 0x16;
const RECORD_HEADER_BYTES = 5;
const MAX_RECORD_BYTES = 2 ** 14;

type Listener = (socket: Socket) => void;

/**
 * Proves names at the port of TLS (RFC 8737). While a name is being proven, the first words of each connection are looked at
 * before anybody responds to them: those that ask for a proof get one, and all others what they came for.
 */
export class TlsProofs {
  private readonly server: Server;

  constructor(private readonly files: TlsFiles) {
    this.server = createServer({
      ALPNProtocols: [PROOF_PROTOCOL],
      SNICallback: (name, done) => {
        const proof = files.tlsProof(name.toLowerCase());
        done(proof ? null : new Error('No such name'), proof ? createSecureContext(proof) : undefined);
      },
    });
    // Nothing is said after the proof was shown (section 3), and whoever breaks off is no problem of ours.
    this.server.on('secureConnection', (socket) => {
      socket.setTimeout(HELLO_WITHIN_MS, () => socket.destroy());
      socket.end();
    });
    this.server.on('tlsClientError', () => undefined);
  }

  /** What takes a connection first; `others` takes those that want no proof. */
  before(others: Listener): Listener {
    return (socket) => {
      if (!this.files.isProvingByTls()) return others(socket);
      const tooLong = setTimeout(() => socket.destroy(), HELLO_WITHIN_MS);
      socket.on('close', () => clearTimeout(tooLong));
      socket.on('error', () => undefined);
      let hello = Buffer.alloc(0);
      const listen = (bytes: Buffer) => {
        hello = Buffer.concat([hello, bytes]);
        if (!isWhole(hello)) return;
        clearTimeout(tooLong);
        socket.off('data', listen);
        socket.pause();
        socket.unshift(hello);
        if (hello.includes(PROOF_PROTOCOL)) this.server.emit('connection', socket);
        else others(socket);
      };
      socket.on('data', listen);
    };
  }
}

/** Whether the first record has come, which may be in several packets; what is no handshake need not be waited for. */
function isWhole(bytes: Buffer): boolean {
  if (bytes[0] !== HANDSHAKE) return true;
  if (bytes.length < RECORD_HEADER_BYTES) return false;
  return bytes.length >= RECORD_HEADER_BYTES + Math.min(bytes.readUInt16BE(3), MAX_RECORD_BYTES);
}
