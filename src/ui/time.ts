/** Minutes and seconds, such as "2:07". */
export function clockTime(seconds: number): string {
  const whole = Math.round(seconds);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`;
}

const DAY = new Intl.DateTimeFormat('en', { day: 'numeric', month: 'short', year: 'numeric' });

/** The day of an ISO 8601 moment, such as "Nov 12, 2026". */
export function day(moment: string): string {
  return DAY.format(new Date(moment));
}

const AGO = new Intl.RelativeTimeFormat('en', { numeric: 'auto' });

const STEPS: readonly [seconds: number, unit: Intl.RelativeTimeFormatUnit][] = [
  [86_400, 'day'],
  [3600, 'hour'],
  [60, 'minute'],
];

/** How long ago an ISO 8601 moment was, such as "3 hours ago"; "just now" within a minute. */
export function ago(moment: string, now = Date.now()): string {
  const seconds = (now - Date.parse(moment)) / 1000;
  const [step, unit] = STEPS.find(([length]) => seconds >= length) ?? [1, null];
  return unit ? AGO.format(-Math.floor(seconds / step), unit) : 'just now';
}
