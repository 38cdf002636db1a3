/** Sizes, money and counts as people read them. */

export function saySize(bytes: number | null | undefined) {
  if (bytes === null || bytes === undefined) return "";
  if (bytes < 1000) return `${bytes} B`;
  if (bytes < 1e6) return `${(bytes / 1e3).toFixed(bytes < 1e4 ? 1 : 0)} kB`;
  return bytes < 1e9 ? `${(bytes / 1e6).toFixed(1)} MB` : `${(bytes / 1e9).toFixed(2)} GB`;
}

const DIGITS: Record<string, number> = { JPY: 0, KRW: 0, CLP: 0, ISK: 0, VND: 0, BHD: 3, KWD: 3, OMR: 3, TND: 3 };

/** How many digits the minor unit of a currency has (ISO 4217). */
const minorDigits = (currency: string) => DIGITS[currency] ?? 2;

/** Minor units of a currency as one types them. */
export function toMajor(minor: number, currency: string) {
  const digits = minorDigits(currency);
  return (minor / 10 ** digits).toFixed(digits);
}

/** What was typed as minor units of a currency; NaN for what is no number. */
export const toMinor = (typed: string, currency: string) => Math.round(Number(typed) * 10 ** minorDigits(currency));

/** The number, or the typed text where it is not a number, so that the service can refuse it with a reason. */
export const orText = (number: number, text: string) => (Number.isNaN(number) ? text : number);

/** Minor units of a currency (ISO 4217) as people read them; nothing if they are not known. */
export function sayMoney(minor: number | null | undefined, currency: string | null | undefined) {
  if (minor === null || minor === undefined || !currency) return "";
  const digits = minorDigits(currency);
  const format = { minimumFractionDigits: digits, maximumFractionDigits: digits };
  return `${(minor / 10 ** digits).toLocaleString("en-GB", format)} ${currency}`;
}

export function count(number: number, one: string, many = `${one}s`) {
  return `${number.toLocaleString("en-GB")} ${number === 1 ? one : many}`;
}

/** Hours in words: minutes, hours or days, whichever is read best. */
export function sayHours(hours: number): string {
  if (hours < 1) return count(Math.max(1, Math.round(hours * 60)), "minute");
  if (hours < 36) return count(Math.round(hours), "hour");
  return `${(hours / 24).toFixed(1)} days`;
}
