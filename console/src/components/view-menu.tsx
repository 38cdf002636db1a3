/** Views of a list, kept under names: one's own, and those that are shared. */

import { DropdownMenu } from "radix-ui";
import { useState } from "react";
import { useLocation } from "wouter";
import { useDropView, useKeepView, useViews } from "../api/saved-views";
import { Button } from "./button";
import { Dialog } from "./dialog";
import { join } from "./join";
import { MenuLine, MenuSheet } from "./menu";
import { ProblemNote } from "./problem-note";

export function ViewMenu({ plural, query }: { plural: string; query: string }) {
  const [keeping, setKeeping] = useState(false);
  const views = useViews(plural);
  const drop = useDropView();
  const [, go] = useLocation();
  const item = "flex cursor-pointer justify-between gap-6 rounded px-3 py-1 outline-none data-highlighted:bg-paper";
  const here = views.data?.find((view) => new URLSearchParams(view.query).toString() === sorted(query));
  return (
    <>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger className="max-w-52 truncate rounded-md border border-line bg-sheet px-3 py-1.5 hover:border-soft">
          {here ? here.name : "Views"}
        </DropdownMenu.Trigger>
        <MenuSheet className="min-w-56">
          {views.data?.map((view) => (
            <DropdownMenu.Item
              key={view.id}
              className={join(item, view === here && "font-semibold")}
              onSelect={() => go(`/${plural}${view.query ? `?${view.query}` : ""}`)}
            >
              <span>
                {view.name}
                {view.gone.length > 0 && (
                  <span className="block text-[12px] font-normal text-ochre">
                    no more in the list: {view.gone.join(", ")}
                  </span>
                )}
              </span>
              <span className="font-normal text-soft">{view.mine ? (view.shared ? "shared" : "mine") : view.by}</span>
            </DropdownMenu.Item>
          ))}
          {views.data?.length === 0 && <p className="px-3 py-1 text-soft">No saved views.</p>}
          <MenuLine />
          <DropdownMenu.Item className={item} onSelect={() => setKeeping(true)}>
            Keep what is shown…
          </DropdownMenu.Item>
          {here?.mine && (
            <DropdownMenu.Item className={item} onSelect={() => drop.mutate(here.id)}>
              Forget “{here.name}”
            </DropdownMenu.Item>
          )}
        </MenuSheet>
      </DropdownMenu.Root>
      {keeping && <KeepDialog plural={plural} query={query} onClose={() => setKeeping(false)} />}
    </>
  );
}

const sorted = (query: string) => new URLSearchParams(query).toString();

function KeepDialog({ plural, query, onClose }: { plural: string; query: string; onClose: () => void }) {
  const [name, setName] = useState("");
  const [shared, setShared] = useState(false);
  const keep = useKeepView();
  return (
    <Dialog open onChange={(open) => !open && onClose()} title="Keep this view" className="p-5">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate({ plural, name, query, shared }, { onSuccess: onClose });
        }}
      >
        <label>
          <span className="mb-0.5 block text-soft">Name</span>
          <input
            className="field"
            required
            maxLength={80}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </label>
        <label className="mt-3 flex items-center gap-2">
          <input type="checkbox" checked={shared} onChange={(event) => setShared(event.target.checked)} />
          for everyone
        </label>
        <div className="mt-3 empty:hidden">
          <ProblemNote problem={keep.error} />
        </div>
        <Button look="ink" type="submit" className="mt-4" disabled={keep.isPending}>
          Save
        </Button>
      </form>
    </Dialog>
  );
}
