/** A sheet over the page, with its title; Escape closes it and the focus goes back. */

import { Dialog as Primitive } from "radix-ui";
import type { ReactNode } from "react";
import { join } from "./join";

interface Props {
  open: boolean;
  onChange: (open: boolean) => void;
  title: string;
  /** The title is only for screen readers. */
  quiet?: boolean;
  className?: string;
  children: ReactNode;
}

export function Dialog({ open, onChange, title, quiet, className, children }: Props) {
  return (
    <Primitive.Root open={open} onOpenChange={onChange}>
      <Primitive.Portal>
        <Primitive.Overlay className="fixed inset-0 bg-ink/30 dark:bg-paper/70" />
        <Primitive.Content
          aria-describedby={undefined}
          className={join(
            "fixed top-[8vh] left-1/2 max-h-[86vh] w-[min(96vw,600px)] -translate-x-1/2 overflow-auto rounded-sheet border border-line bg-sheet",
            className,
          )}
        >
          <Primitive.Title className={quiet ? "sr-only" : "mb-3 font-serif text-[20px] font-semibold"}>
            {title}
          </Primitive.Title>
          {children}
        </Primitive.Content>
      </Primitive.Portal>
    </Primitive.Root>
  );
}
