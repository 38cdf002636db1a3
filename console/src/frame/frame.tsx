/** The frame around every page. */

import { Suspense, useState } from "react";
import { useLocation } from "wouter";
import { useUnread } from "../api/notices";
import { Hidden } from "../components/text";
import { Waiting } from "../components/waiting";
import { count } from "../format/numbers";
import { KeyHelp } from "../keyboard/help";
import { useKeys } from "../keyboard/keys";
import { NoteDialog } from "../pages/packets/note";
import { Find } from "./find";
import { Header } from "./header";
import { LooseFiles } from "./loose-files";
import { useLooseFiles } from "./pictures";
import { Routes } from "./routes";

export function Frame({ person, roles }: { person: string; roles: string[] }) {
  const [where, go] = useLocation();
  const [open, setOpen] = useState<"find" | "keys" | "note" | null>(null);
  const preparer = roles.includes("preparer");
  const [loose, setLoose] = useState<File[]>([]);
  const [pictures, setPictures] = useState<File[]>([]);
  useLooseFiles(preparer, setLoose);
  const unread = useUnread();
  const places = {
    find: () => setOpen("find"),
    keys: () => setOpen("keys"),
    note: preparer && (() => setOpen("note")),
    today: () => go("/"),
    packets: () => go("/packets"),
    assets: () => go("/assets"),
    contracts: () => go("/contracts"),
    ahead: () => go("/ahead"),
    desks: () => go("/desks"),
    notices: () => go("/notices/list"),
    overview: () => go("/overview"),
    knowHow: () => go("/articles"),
    imports: roles.includes("keeper") && (() => go("/imports")),
  };
  useKeys("frame", places);
  const toggle = (name: typeof open) => (shown: boolean) => setOpen(shown ? name : null);

  return (
    <div className="flex min-h-dvh flex-col">
      <a href="#page" className="sr-only focus:not-sr-only focus:absolute focus:m-2 focus:bg-sheet focus:p-2">
        To the page
      </a>
      <Header where={where} person={person} roles={roles} unread={unread} onOpen={setOpen} />
      <Hidden as="p" aria-live="polite">
        {unread > 0 && `${count(unread, "notice", "notices")} not read`}
      </Hidden>
      <div id="page" className="flex grow flex-col">
        <Suspense fallback={<Waiting label="Loading the page" />}>
          <Routes roles={roles} />
        </Suspense>
      </div>
      <Find open={open === "find"} onChange={toggle("find")} />
      <KeyHelp open={open === "keys"} onChange={toggle("keys")} />
      {open === "note" && (
        <NoteDialog
          files={pictures}
          onClose={() => {
            setOpen(null);
            setPictures([]);
          }}
        />
      )}
      {loose.length > 0 && (
        <LooseFiles
          files={loose}
          noting={open === "note"}
          onNote={(files) => {
            setPictures((before) => [...before, ...files]);
            setLoose([]);
            setOpen("note");
          }}
          onDone={() => setLoose([])}
        />
      )}
    </div>
  );
}
