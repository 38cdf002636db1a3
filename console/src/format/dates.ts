/** Dates and times as people read them. */

export function sayDay(iso: string) {
  return new Date(iso).toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric" });
}

/** Whole days from today to a day, whatever the hour; days that are over count downwards. */
export function daysTo(iso: string) {
  return Math.round((Date.parse(iso) - Date.parse(new Date().toISOString().slice(0, 10))) / 86_400_000);
}

export function sayMoment(iso: string | null | undefined) {
  if (!iso) return "";
  const options = { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" } as const;
  return new Date(iso).toLocaleString("en-GB", options);
}

/** A day so many days after another, both as ISO 8601. */
export function dayAfter(iso: string, days = 1) {
  return new Date(Date.parse(iso) + days * 86_400_000).toISOString().slice(0, 10);
}

/** How long ago it was, as short as a column wants it. */
export function sayWait(iso: string, at = Date.now()) {
  const minutes = Math.max(0, Math.round((at - Date.parse(iso)) / 60_000));
  if (minutes < 60) return `${minutes} min`;
  if (minutes < 48 * 60) return `${Math.round(minutes / 60)} h`;
  return `${Math.round(minutes / 1440)} d`;
}

/** When something is due: today and tomorrow by these words, with the time; what is over by how long it is. */
export function sayDue(iso: string, at = Date.now()) {
  const due = Date.parse(iso);
  if (due <= at) return `overdue for ${sayWait(iso, at)}`;
  const time = new Date(due).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
  const days = Math.round((new Date(due).setHours(0, 0, 0, 0) - new Date(at).setHours(0, 0, 0, 0)) / 86_400_000);
  if (days === 0) return `due ${time}`;
  if (days === 1) return `due tomorrow ${time}`;
  return `due ${sayMoment(iso)}`;
}

/** The same moment on the clocks of the desk, such as “09:40 at the desk”; nothing if they show the same. */
export function sayAtDesk(iso: string, zone: string) {
  if (!zone) return "";
  const moment = new Date(iso);
  const there = (timeZone?: string) =>
    moment.toLocaleString("en-GB", { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit", timeZone });
  if (there(zone) === there()) return "";
  const [day, time] = there(zone).split(", ");
  return there().startsWith(`${day},`) ? `${time} at the desk` : `${day} ${time} at the desk`;
}

export const today = () => new Date().toISOString().slice(0, 10);
