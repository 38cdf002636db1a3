/** A button; its key is shown on it. */
import type { ButtonHTMLAttributes } from "react";
import { join } from "./join";
import { Key } from "./key";

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

/** A button that looks like a link within a text. */
export function TextButton(props: Omit<ButtonHTMLAttributes<HTMLButtonElement>, "className">) {
  return <button type="button" className="link" {...props} />;
}
