import { connect, type Socket } from 'node:net';

/**
 * Sends requests over keep-alive connections, each as soon as the answer before it is whole, and counts the answers.
 * All answers to one call must be of the same length, which is learnt from the first.
 *
 * @param fromAddress of the loopback network, that the requests come from
 * @returns answers per second
 */
export async function load(
  port: number,
  requests: readonly Buffer[],
  connections: number,
  forMs: number,
  fromAddress = '127.0.0.1',
): Promise<number> {
  const length = await responseLength(port, requests[0]!);
  let next = 0;
  let replies = 0;
  let running = true;
  const sockets: Socket[] = [];
  const began = performance.now();
  await Promise.all(
    Array.from({ length: connections }, async () => {
      const socket = await open(port, fromAddress);
      sockets.push(socket);
      const send = () => socket.write(requests[(next = (next + 1) % requests.length)]!);
      let received = 0;
      const closed = new Promise((resolve) => socket.on('close', resolve));
      socket.on('data', (chunk) => {
        received += chunk.length;
        if (received < length) return;
        received -= length;
        replies += 1;
        if (running) send();
        else socket.destroy();
      });
      send();
      await Promise.race([closed, new Promise((resolve) => setTimeout(resolve, forMs))]);
    }),
  );
  const seconds = (performance.now() - began) / 1000;
  running = false;
  const counted = replies;
  await new Promise((resolve) => setTimeout(resolve, 50));
  sockets.forEach((socket) => socket.destroy());
  return counted / seconds;
}

export function getRequest(path: string, userAgent: string): Buffer {
  return Buffer.from(`GET ${path} HTTP/1.1\r\nHost: 127.0.0.1\r\nUser-Agent: ${userAgent}\r\nAccept: image/*\r\n\r\n`);
}

async function responseLength(port: number, request: Buffer): Promise<number> {
  const socket = await open(port);
  socket.write(request);
  let response = '';
  for await (const chunk of socket) {
    response += (chunk as Buffer).toString('latin1');
    const end = response.indexOf('\r\n\r\n');
    const bodiless = response.startsWith('HTTP/1.1 204');
    const body = bodiless ? 0 : Number(/content-length: (\d+)/i.exec(response)?.[1] ?? NaN);
    if (end !== -1 && response.length >= end + 4 + body) break;
  }
  socket.destroy();
  return response.length;
}

function open(port: number, localAddress = '127.0.0.1'): Promise<Socket> {
  return new Promise((resolve, reject) => {
    const socket = connect({ port, host: '127.0.0.1', localAddress, noDelay: true }, () => resolve(socket));
    socket.on('error', reject);
  });
}
