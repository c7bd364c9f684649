import { createSocket, type Socket } from 'node:dgram';
import { once } from 'node:events';

/** A name server on loopback that knows TXT records: each in parts; a name without an entry is not there. */
export class NameServer {
  readonly records = new Map<string, string[][]>();
  /** Whether it answers at all. */
  isSilent = false;
  private constructor(private readonly socket: Socket) {}

  static async start(): Promise<NameServer> {
    const server = new NameServer(createSocket('udp4'));
    server.socket.on('message', (query, { port, address }) => {
      if (!server.isSilent) server.socket.send(responseTo(query, server.records.get(nameIn(query))), port, address);
    });
    server.socket.bind(0, '127.0.0.1');
    await once(server.socket, 'listening');
    return server;
  }

  get address(): string {
    return `127.0.0.1:${this.socket.address().port}`;
  }

  stop(): void {
    this.socket.close();
  }
}

/** The name that a query asks for (RFC 1035, section 4.1.2). */
function nameIn(query: Buffer): string {
  const labels: string[] = [];
  for (let at = 12; query[at] !== 0; at += query[at]! + 1)
    labels.push(query.toString('latin1', at + 1, at + 1 + query[at]!));
  return labels.join('.');
}

/** A response to a query for TXT records (RFC 1035, section 4). */
function responseTo(query: Buffer, records: string[][] | undefined): Buffer {
  const questionEnd = query.indexOf(0, 12) + 5;
  const header = Buffer.alloc(12);
  query.copy(header, 0, 0, 2);
  // Response, recursion available; 3: there is no such name.
  header.writeUInt16BE(0x8180 | (records ? 0 : 3), 2);
  header.writeUInt16BE(1, 4);
  header.writeUInt16BE(records?.length ?? 0, 6);
  const answers = (records ?? []).map((parts) => {
    const data = Buffer.concat(parts.map((part) => Buffer.from([part.length, ...Buffer.from(part)])));
    const answer = Buffer.alloc(12);
    answer.writeUInt16BE(0xc00c, 0);
    answer.writeUInt16BE(16, 2);
    answer.writeUInt16BE(1, 4);
    answer.writeUInt16BE(data.length, 10);
    return Buffer.concat([answer, data]);
  });
  return Buffer.concat([header, query.subarray(12, questionEnd), ...answers]);
}
