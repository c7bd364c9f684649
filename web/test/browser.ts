/** What a window has and a document without one lacks: a size, a live stream that never says anything. */
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
    EventSource: class extends EventTarget {
      close() {}
    },
  });
}
