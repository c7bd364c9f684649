/** What a window has and a document without one lacks: a size, messages to itself, a live stream that never says anything. */
export function likeABrowser(): void {
  window.matchMedia = (media) =>
    ({
      matches: false,
      media,
      addEventListener() {},
      removeEventListener() {},
      addListener() {},
      removeListener() {},
    }) as never;
  globalThis.ResizeObserver = class {
    observe() {}
    unobserve() {}
    disconnect() {}
  };
  Object.assign(globalThis, {
    MessageChannel: class {
      port1: { onmessage?: (event: { data: unknown }) => void } = {};
      port2 = { postMessage: (data: unknown) => setTimeout(() => this.port1.onmessage?.({ data })) };
    },
    EventSource: class extends EventTarget {
      close() {}
    },
  });
}
