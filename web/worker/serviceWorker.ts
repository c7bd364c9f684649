/*
 * Shows what a push service delivers, and leads to the page when a notification is pressed. It keeps nothing, and answers no
 * requests: the page comes from the server as ever.
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

/** In a window that is open already, if there is one. */
async function goTo(path: string): Promise<void> {
  const [open] = await worker.clients.matchAll({ type: 'window', includeUncontrolled: true });
  if (!open) return void (await worker.clients.openWindow(path));
  open.postMessage({ path });
  await open.focus();
}

export {};
