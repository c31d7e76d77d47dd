// Dates and times in one format everywhere: “1 December 2026”, “22:04”, “1 Dec, 22:04”.
const DAY = new Intl.DateTimeFormat("en-GB", { weekday: "long", day: "numeric", month: "long", year: "numeric" });
const DATE = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "long", year: "numeric" });
const SHORT = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short" });
const HOUR = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit", hourCycle: "h23" });

export const hourOf = (at: string): string => HOUR.format(new Date(at));
/** Such as “Tuesday 1 December 2026”. */
export const dayOf = (at: string): string => DAY.format(new Date(at)).replace(",", "");
/** Such as “23 Nov, 13:05”. */
export const shortly = (at: string): string => `${SHORT.format(new Date(at))}, ${hourOf(at)}`;

/** Such as “today, 13:05”, “yesterday, 13:05” or “23 November 2026”. */
export function recently(at: string, now = new Date()): string {
  const then = new Date(at);
  const midnight = (day: Date) => new Date(day.getFullYear(), day.getMonth(), day.getDate()).getTime();
  const days = Math.round((midnight(now) - midnight(then)) / 86_400_000);
  if (days === 0) return `today, ${hourOf(at)}`;
  if (days === 1) return `yesterday, ${hourOf(at)}`;
  return DATE.format(then);
}
