/*
 * Shows what a push service delivers, and leads to the page when a notification is pressed. Where the server cannot be
 * reached it says so; what another program shares it keeps until the page has taken it. All else comes from the server as
 * ever.
 */
const worker = self as unknown as ServiceWorkerGlobalScope;

/** As the server writes it. */
interface PushMessage {
  title: string;
  detail: string;
  tag: string;
  path: string;
}

worker.addEventListener('push', (event) => {
  const { title, detail, tag, path } = event.data!.json() as PushMessage;
  event.waitUntil(
    worker.registration.showNotification(title, { body: detail, tag, data: { path }, icon: '/mark.svg' }),
  );
});

worker.addEventListener('notificationclick', (event) => {
  event.notification.close();
  const { path } = event.notification.data as { path: string };
  event.waitUntil(goTo(path));
});

worker.addEventListener('install', () => void worker.skipWaiting());
worker.addEventListener('activate', (event) => event.waitUntil(worker.clients.claim()));

worker.addEventListener('fetch', (event) => {
  const { request } = event;
  const { pathname } = new URL(request.url);
  // Pages alone: messages in their frames, and what is saved as a file, come from the server as they are.
  if (request.destination !== 'document' || pathname.startsWith('/api/')) return;
  if (request.method === 'POST' && pathname === '/share') event.respondWith(keepShared(request));
  else if (request.method === 'GET')
    event.respondWith(fetch(request).catch(() => new Response(UNREACHABLE, { headers: HTML })));
});

const HTML = { 'content-type': 'text/html; charset=utf-8' };
/** Without anything that would have to be loaded; “Try again” asks for the same page. */
const UNREACHABLE = `<!doctype html><html lang="en"><meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1"><title>Kiraku cannot be reached</title>
<style>:root{color-scheme:light dark}body{max-width:34em;margin:18vh auto;padding:0 20px;font:17px/1.6 system-ui,sans-serif}
a{display:inline-block;padding:9px 18px;border:1px solid}</style>
<main><h1>Kiraku cannot be reached</h1>
<p>This device has no connection to it. Nothing is lost: activity is still recorded there, and saved drafts are kept.</p>
<p><a href="">Try again</a></p></main></html>`;

/** As `web/src/write/shared.ts` finds them. */
const SHARED_CACHE = 'kiraku.shared';

/** Keeps the files until the page that is gone to has taken them; of an earlier share nothing is left. */
async function keepShared(request: Request): Promise<Response> {
  const form = await request.formData();
  const files = form.getAll('files').filter((part) => part instanceof File);
  await caches.delete(SHARED_CACHE);
  const cache = await caches.open(SHARED_CACHE);
  await Promise.all(
    files.map((file, index) =>
      cache.put(
        `/share/${index}`,
        new Response(file, { headers: { 'content-type': file.type, 'x-name': encodeURIComponent(file.name) } }),
      ),
    ),
  );
  const text = ['title', 'text', 'url']
    .map((name) => form.get(name))
    .filter((part) => typeof part === 'string' && part);
  const query = new URLSearchParams({ shared: String(files.length), text: text.join('\n').slice(0, 2000) });
  return Response.redirect(`/write?${query}`, 303);
}

/** In a window that is open already, if there is one. */
async function goTo(path: string): Promise<void> {
  const [open] = await worker.clients.matchAll({ type: 'window', includeUncontrolled: true });
  if (!open) return void (await worker.clients.openWindow(path));
  open.postMessage({ path });
  await open.focus();
}

export {};
