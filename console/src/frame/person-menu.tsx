/** The menu of the signed-in person. */

import { DropdownMenu } from "radix-ui";
import { useState } from "react";
import { useLocation } from "wouter";
import { useSignOut } from "../api/session";
import { Key } from "../components/key";
import { MenuLine, MenuSheet } from "../components/menu";
import { applyTheme, chosenTheme, type Theme } from "./theme";

export function PersonMenu({ person, roles, showKeys }: { person: string; roles: string[]; showKeys: () => void }) {
  const signOut = useSignOut();
  const [, go] = useLocation();
  const [theme, setTheme] = useState<Theme>(chosenTheme());
  const item = "flex justify-between gap-6 rounded px-3 py-1.5 outline-none data-highlighted:bg-paper cursor-pointer";
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="text-soft whitespace-nowrap hover:text-ink">
        <span className="max-sm:hidden">{person}</span>
        <span className="sm:hidden">{person.split(" ").map((word) => word[0])}</span>
      </DropdownMenu.Trigger>
      <MenuSheet className="min-w-52">
        <DropdownMenu.Label className="px-3 py-1 text-soft">{roles.join(", ")}</DropdownMenu.Label>
        <MenuLine />
        <DropdownMenu.RadioGroup
          value={theme}
          onValueChange={(value) => {
            setTheme(value as Theme);
            applyTheme(value as Theme);
          }}
        >
          {(["system", "light", "dark"] as const).map((value) => (
            <DropdownMenu.RadioItem key={value} value={value} className={item}>
              {{ system: "As the system", light: "Light", dark: "Dark" }[value]}
              <DropdownMenu.ItemIndicator>✓</DropdownMenu.ItemIndicator>
            </DropdownMenu.RadioItem>
          ))}
        </DropdownMenu.RadioGroup>
        <MenuLine />
        <DropdownMenu.Item className={item} onSelect={() => go("/you")}>
          Password and tokens
        </DropdownMenu.Item>
        <DropdownMenu.Item className={item} onSelect={() => go("/notices/settings")}>
          How you are notified
        </DropdownMenu.Item>
        {["keeper", "releaser", "preparer"].some((role) => roles.includes(role)) && (
          <>
            <DropdownMenu.Item className={item} onSelect={() => go("/redaction-plan")}>
              Redaction plan
            </DropdownMenu.Item>
            <DropdownMenu.Item className={item} onSelect={() => go("/custody")}>
              Custody
            </DropdownMenu.Item>
          </>
        )}
        {roles.includes("admin") && (
          <DropdownMenu.Item className={item} onSelect={() => go("/accounts")}>
            Accounts
          </DropdownMenu.Item>
        )}
        {roles.includes("admin") && (
          <DropdownMenu.Item className={item} onSelect={() => go("/webhooks")}>
            Webhooks
          </DropdownMenu.Item>
        )}
        <DropdownMenu.Item className={item} onSelect={showKeys}>
          Keys <Key>?</Key>
        </DropdownMenu.Item>
        <DropdownMenu.Item className={item} onSelect={() => signOut.mutate()}>
          Sign out
        </DropdownMenu.Item>
      </MenuSheet>
    </DropdownMenu.Root>
  );
}
