/** Streams of server-sent events as the tests play them: what the browser has, and jsdom does not. */

const open = new Set<PlayedStream>();

class PlayedStream extends EventTarget {
  constructor(readonly url: string) {
    super();
    open.add(this);
  }

  close() {
    open.delete(this);
  }
}

class QuietChannel {
  onmessage: unknown = null;
  postMessage() {}
  close() {}
}

/** Give a page streams and channels. */
export function giveStreams() {
  Object.assign(globalThis, { EventSource: PlayedStream, BroadcastChannel: QuietChannel });
}

/** Say something on all streams of an address that are open. */
export function say(url: string, name: string, data: unknown) {
  for (const one of open) {
    if (one.url === url) one.dispatchEvent(new MessageEvent(name, { data: JSON.stringify(data) }));
  }
}
