import type { Socket } from 'node:net';
import { SMTPServer } from 'smtp-server';
import { SMTPConnection } from 'smtp-server/lib/smtp-connection.js';
import { givesWay } from './givesWay.js';

/** So many may be about to sign in; the others’ places are for those who have. */
const MAX_STRANGERS = 20;

/**
 * A connection that offers to log in only once it is encrypted (RFC 4954, section 4; RFC 8314, section 3.3): a program that
 * is offered it before may send the password in the clear.
 */
class TlsFirstConnection extends SMTPConnection {
  private isGreeting = false;

  override handler_EHLO(...args: Parameters<SMTPConnection['handler_EHLO']>): void {
    this.isGreeting = true;
    super.handler_EHLO(...args);
    this.isGreeting = false;
  }

  override _isSupported(command: string): boolean {
    return !(this.isGreeting && command === 'AUTH' && !this.secure) && super._isSupported(command);
  }
}

/**
 * The library's server, with {@link TlsFirstConnection} in the place of its own, and with room for the owner however many
 * strangers hold connections without signing in.
 */
export class TlsFirstServer extends SMTPServer {
  override connect(socket: Socket, options?: ConstructorParameters<typeof SMTPConnection>[2]): void {
    const connection = new TlsFirstConnection(this, socket, options);
    this.connections.add(connection);
    this.makeRoom();
    connection.on('error', (error: Error) => this._onError(error));
    connection.on('connect', (data: Parameters<SMTPServer['_onClientConnect']>[0]) => this._onClientConnect(data));
    connection.init();
  }

  override _acceptSocket(socket: Socket, isHandshake: boolean): (() => void) | false {
    const release = super._acceptSocket(socket, isHandshake);
    // By the socket that came; what is on top of it is what can be closed in the middle of a handshake.
    const late = givesWay([...this._pendingSockets.keys()], MAX_STRANGERS, ({ remoteAddress }) => remoteAddress ?? '');
    if (late) this._pendingSockets.get(late)?.destroy();
    return release;
  }

  private makeRoom(): void {
    const strangers = [...this.connections].filter(({ session }) => !session.user);
    const late = givesWay(strangers, MAX_STRANGERS, ({ remoteAddress }) => remoteAddress);
    late?.send(421, '4.7.0 Others are waiting, and you have not signed in. Try again in a moment.', false);
  }
}
