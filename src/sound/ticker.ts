/** A clock in a worker: the timers of a page in the background are slowed down, a worker's are not. */
let timer: ReturnType<typeof setInterval> | undefined;

self.onmessage = ({ data }: MessageEvent<number>) => {
  clearInterval(timer);
  if (data > 0) timer = setInterval(() => self.postMessage(null), data);
};
