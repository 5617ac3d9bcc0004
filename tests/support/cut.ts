import { connect, createServer, type AddressInfo, type Socket } from 'node:net';

/** A way to a database that can be cut: everything that goes through it breaks, and nobody comes through until it is mended. */
export async function wayThatBreaks(url: string) {
  const target = new URL(url);
  const open = new Set<Socket>();
  let isCut = false;
  const server = createServer((socket) => {
    if (isCut) return void socket.destroy();
    const there = connect(Number(target.port), target.hostname);
    for (const one of [socket, there]) {
      open.add(one);
      one.on('error', () => {});
      one.on('close', () => open.delete(one));
    }
    socket.pipe(there).pipe(socket);
    socket.on('close', () => there.destroy());
    there.on('close', () => socket.destroy());
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as AddressInfo;
  return {
    url: Object.assign(new URL(url), { port: String(port) }).href,
    cut() {
      isCut = true;
      for (const socket of open) socket.destroy();
    },
    mend() {
      isCut = false;
    },
    close() {
      for (const socket of open) socket.destroy();
      server.close();
    },
  };
}
