import type { Socket } from 'node:net';
import { SMTPServer } from 'smtp-server';
import { SMTPConnection } from 'smtp-server/lib/smtp-connection.js';

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

/** The library's server, with {@link TlsFirstConnection} in the place of its own. */
export class TlsFirstServer extends SMTPServer {
  override connect(socket: Socket, options?: ConstructorParameters<typeof SMTPConnection>[2]): void {
    const connection = new TlsFirstConnection(this, socket, options);
    this.connections.add(connection);
    connection.on('error', (error: Error) => this._onError(error));
    connection.on('connect', (data: Parameters<SMTPServer['_onClientConnect']>[0]) => this._onClientConnect(data));
    connection.init();
  }
}
