/** The sheet on which the items of a menu lie. */
import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";
import { join } from "./join";

export function MenuSheet({ className, children }: { className: string; children: ReactNode }) {
  return (
    <DropdownMenu.Portal>
      <DropdownMenu.Content
        align="end"
        sideOffset={6}
        className={join("z-20 rounded-sheet border border-line bg-sheet p-1.5", className)}
      >
        {children}
      </DropdownMenu.Content>
    </DropdownMenu.Portal>
  );
}

export const MenuLine = () => <DropdownMenu.Separator className="my-1 border-t border-line" />;
