import type { NotificationView, PushDeviceRequest } from '@kiraku/core/contract';

/** Whether this browser shows desktop notifications: `unsupported` where the page did not come over TLS, or it never can. */
export type SystemState = NotificationPermission | 'unsupported';

const WORKER = '/service-worker.js';

export function systemState(): SystemState {
  const can = 'Notification' in window && 'serviceWorker' in navigator;
  return can ? Notification.permission : 'unsupported';
}

/** Asks for the permission; call it at the press of a button. */
export async function askSystem(): Promise<SystemState> {
  if (systemState() === 'unsupported') return 'unsupported';
  await Notification.requestPermission();
  await startWorker();
  return Notification.permission;
}

/** Starts what shows notifications, takes pushes and shared files, and says when the server cannot be reached. */
export async function startWorker(): Promise<void> {
  // Where it is forbidden, or missing while the page is developed, all else works without it.
  if ('serviceWorker' in navigator) await navigator.serviceWorker.register(WORKER).catch(() => undefined);
}

/** Shows a desktop notification. What has the same tag is replaced. */
export async function showSystem({ title, detail, tag, path }: NotificationView): Promise<void> {
  if (systemState() !== 'granted') return;
  const worker = await navigator.serviceWorker.ready;
  await worker.showNotification(title, { body: detail, tag, data: { path }, icon: '/mark.svg' });
}

export async function withdrawSystem(tag: string): Promise<void> {
  if (systemState() !== 'granted') return;
  const worker = await navigator.serviceWorker.getRegistration();
  for (const shown of (await worker?.getNotifications({ tag })) ?? []) shown.close();
}

/** Calls with the path of a notification of the system that was pressed. */
export function onSystemPressed(go: (path: string) => void): () => void {
  if (!('serviceWorker' in navigator)) return () => undefined;
  const listener = ({ data }: MessageEvent<{ path?: string }>) => {
    if (typeof data?.path === 'string' && data.path.startsWith('/')) go(data.path);
  };
  navigator.serviceWorker.addEventListener('message', listener);
  return () => navigator.serviceWorker.removeEventListener('message', listener);
}

/**
 * Has this browser notified also when no window of Kiraku is open.
 *
 * @throws Error in words where its push service cannot be reached
 */
export async function subscribePush(publicKey: string): Promise<PushDeviceRequest> {
  const worker = await navigator.serviceWorker.ready;
  const subscription = await worker.pushManager
    .subscribe({ userVisibleOnly: true, applicationServerKey: publicKey })
    .catch((cause: unknown) => {
      throw new Error('The push service of this browser could not be reached.', { cause });
    });
  const { endpoint, keys } = subscription.toJSON();
  return { name: browserName(), endpoint: endpoint!, p256dh: keys!['p256dh']!, auth: keys!['auth']! };
}

function browserName(): string {
  const { userAgentData, userAgent } = navigator as Navigator & { userAgentData?: { platform: string } };
  const system = userAgentData?.platform ?? /\(([^;)]+)/.exec(userAgent)?.[1] ?? 'this device';
  return `A browser on ${system}`.slice(0, 120);
}
