/** Texts that look alike everywhere: secondary ones, headings, and words for screen readers only. */
import type { HTMLAttributes } from "react";
import { join } from "./join";

type Tag =
  | "p"
  | "span"
  | "div"
  | "dd"
  | "li"
  | "ul"
  | "ol"
  | "h2"
  | "h3"
  | "strong"
  | "em"
  | "legend"
  | "caption"
  | "nav";
type TextProps = HTMLAttributes<HTMLElement> & { as?: Tag };

/** Secondary text, set back in colour. A `block` starts a line of its own. */
export function Soft({
  as: Element = "p",
  block = false,
  ...rest
}: Omit<TextProps, "className"> & { block?: boolean }) {
  return <Element className={join("text-soft", block && "block")} {...rest} />;
}

/** Words for screen readers only. */
export function Hidden({ as: Element = "span", ...rest }: Omit<TextProps, "className">) {
  return <Element className="sr-only" {...rest} />;
}

type HeadingProps = Omit<HTMLAttributes<HTMLHeadingElement>, "className"> & {
  level: 1 | 2 | 3;
  size?: "large" | "small";
};

/** The heading of a part of a page. */
export function Heading({ level, size = "large", ...rest }: HeadingProps) {
  const Element = `h${level}` as const;
  return <Element className={size === "large" ? "text-[18px] leading-6" : "text-[16px]"} {...rest} />;
}
