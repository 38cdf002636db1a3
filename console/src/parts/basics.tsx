/** The small set of own components that pages are composed of. */
import type { ButtonHTMLAttributes, ReactNode } from "react";
import { ProblemError } from "../api/client";

export function join(...names: (string | false | null | undefined)[]) {
  return names.filter(Boolean).join(" ");
}

export function Key({ children }: { children: ReactNode }) {
  return (
    <kbd aria-hidden className="rounded-sm border border-current/30 px-1 font-mono text-[11px] leading-4 opacity-80">
      {children}
    </kbd>
  );
}

type ButtonProps = ButtonHTMLAttributes<HTMLButtonElement> & { look?: "ink" | "plain" | "bare"; letter?: string };

export function Button({ look = "plain", letter, children, className, ...rest }: ButtonProps) {
  const looks = {
    ink: "bg-ink text-paper border-ink hover:opacity-90",
    plain: "bg-sheet border-line hover:border-soft",
    bare: "border-transparent text-slate font-semibold hover:underline px-0",
  };
  return (
    <button
      type="button"
      aria-keyshortcuts={letter}
      className={join(
        "inline-flex items-center gap-2 rounded-md border px-3 py-1.5 font-semibold whitespace-nowrap",
        "disabled:opacity-50 disabled:hover:border-line",
        looks[look],
        className,
      )}
      {...rest}
    >
      {children}
      {letter && <Key>{letter.toUpperCase()}</Key>}
    </button>
  );
}

const BADGES = {
  wax: "bg-wax-wash text-wax",
  ochre: "bg-ochre-wash text-ochre",
  moss: "bg-moss-wash text-moss",
  plain: "border border-line text-soft",
};

export function Badge({ tone, children }: { tone: keyof typeof BADGES; children: ReactNode }) {
  return (
    <span className={join("inline-block rounded-full px-2 text-[12px] leading-5 whitespace-nowrap", BADGES[tone])}>
      {children}
    </span>
  );
}

export function lifeTone(life: string): keyof typeof BADGES {
  if (life === "refused") return "wax";
  if (life === "drafting") return "ochre";
  if (life === "answered" || life === "settled") return "moss";
  return "plain";
}

export function Sheet({ title, children, className }: { title?: string; children: ReactNode; className?: string }) {
  return (
    <section className={join("rounded-sheet border border-line bg-sheet", className)}>
      {title && <h2 className="px-4 pt-3.5 text-[16px]">{title}</h2>}
      {children}
    </section>
  );
}

export function Mono({ children, className }: { children: ReactNode; className?: string }) {
  return <span className={join("font-mono text-[12.5px]", className)}>{children}</span>;
}

/** What went wrong, what was kept, what to do. */
export function ProblemNote({ problem, children }: { problem: unknown; children?: ReactNode }) {
  if (!problem) return null;
  const known = problem instanceof ProblemError;
  return (
    <div role="alert" className="rounded-md border-l-3 border-wax bg-wax-wash px-3 py-2">
      <p>{known ? problem.detail : "Something broke in this page."}</p>
      <p className="text-soft">{known ? problem.remedy : "Load the page again; nothing in the house was changed."}</p>
      {children}
    </div>
  );
}

/** A page whose subject could not be read. */
export function ProblemPage({ title, problem }: { title: string; problem: unknown }) {
  return (
    <main className="mx-auto w-full max-w-3xl p-6">
      <h1 className="mb-3 text-[24px] leading-8">{title}</h1>
      <ProblemNote problem={problem} />
    </main>
  );
}

/** What is known of a thing, name beside value. */
export function Facts({ facts, narrow }: { facts: [string, ReactNode][]; narrow?: boolean }) {
  return (
    <dl className={join("grid gap-y-1.5", narrow ? "grid-cols-[90px_1fr]" : "grid-cols-[120px_1fr]")}>
      {facts.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-soft">{name}</dt>
          <dd className="min-w-0 break-words">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

/** Lines where text will stand, so that nothing jumps when it comes. */
export function Waiting({ lines = 4, label }: { lines?: number; label: string }) {
  const widths = ["w-3/5", "w-4/5", "w-2/5", "w-3/4", "w-1/2"];
  return (
    <div role="status" aria-label={label} className="flex flex-col gap-3 py-3">
      {Array.from({ length: lines }, (_, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the lines are all alike
        <div key={place} className={join("h-4 rounded bg-line/60", widths[place % widths.length])} />
      ))}
    </div>
  );
}

export function Nothing({ children }: { children: ReactNode }) {
  return <p className="py-3 text-soft">{children}</p>;
}

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
export const toMajor = (minor: number, currency: string) => String(minor / 10 ** minorDigits(currency));

/** What was typed as minor units of a currency; NaN for what is no number. */
export const toMinor = (typed: string, currency: string) => Math.round(Number(typed) * 10 ** minorDigits(currency));

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
