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
