/** The frame around every page. */

import { Suspense, useState } from "react";
import { Link, Route, Switch, useLocation } from "wouter";
import { join } from "../components/join";
import { Key } from "../components/key";
import { Nothing } from "../components/nothing";
import { Waiting } from "../components/waiting";
import { KeyHelp } from "../keyboard/help";
import { useKeys } from "../keyboard/keys";
import { isIncoming } from "../pages/incoming-tabs";
import { PacketsPage } from "../pages/packets/list";
import { NoteDialog } from "../pages/packets/note";
import { PacketPage } from "../pages/packets/page";
import { AssetPage } from "../pages/register/asset";
import { ContractPage } from "../pages/register/contract";
import { REGISTER } from "../pages/register/kinds";
import { RegisterPage } from "../pages/register/page";
import { TodayPage } from "../pages/today";
import { Find } from "./find";
import {
  AccountsPage,
  AheadPage,
  DeskPage,
  DesksPage,
  ImportPage,
  ImportsPage,
  OrderDocumentPage,
  OrderDocumentsPage,
  OwnPage,
  StatementPage,
  StatementsPage,
} from "./lazy-pages";
import { PersonMenu } from "./person-menu";
import { PLACES } from "./places";

type PacketParams = { number: string; part?: string; name?: string };

export function Frame({ person, roles }: { person: string; roles: string[] }) {
  const [where, go] = useLocation();
  const [open, setOpen] = useState<"find" | "keys" | "note" | null>(null);
  const preparer = roles.includes("preparer");
  useKeys({
    "/": () => setOpen("find"),
    "?": () => setOpen("keys"),
    n: preparer && (() => setOpen("note")),
    t: () => go("/"),
    p: () => go("/packets"),
    a: () => go("/assets"),
    c: () => go("/contracts"),
    h: () => go("/ahead"),
    d: () => go("/desks"),
    i: roles.includes("keeper") && (() => go("/imports")),
  });
  const toggle = (name: typeof open) => (shown: boolean) => setOpen(shown ? name : null);

  return (
    <div className="flex min-h-dvh flex-col">
      <a href="#page" className="sr-only focus:not-sr-only focus:absolute focus:m-2 focus:bg-sheet focus:p-2">
        To the page
      </a>
      <header className="sticky top-0 z-10 flex h-12 shrink-0 items-center gap-5 border-b border-line bg-paper px-5 max-sm:gap-3 max-sm:px-3">
        <Link href="/" className="font-serif text-[17px] font-semibold whitespace-nowrap max-sm:hidden">
          Seal Packet
        </Link>
        <nav aria-label="Places" className="flex min-w-0 gap-5 overflow-x-auto py-1 max-sm:gap-3">
          {PLACES.filter(([, , role]) => !role || roles.includes(role)).map(([to, name]) => {
            const here = to === "/" ? where === "/" : to === "/imports" ? isIncoming(where) : where.startsWith(to);
            return (
              <Link
                key={to}
                href={to}
                aria-current={here ? "page" : undefined}
                className={join("hover:text-ink", here ? "text-ink" : "text-soft")}
              >
                {name}
              </Link>
            );
          })}
        </nav>
        <button
          type="button"
          aria-keyshortcuts="/"
          onClick={() => setOpen("find")}
          className="ml-auto flex w-75 items-center justify-between rounded-md border border-line bg-sheet px-2.5 py-1.5 text-soft hover:border-soft max-lg:w-auto max-lg:gap-2"
        >
          <span className="max-lg:sr-only">Find a serial, packet, site…</span>
          <span className="lg:hidden">Find</span>
          <Key>/</Key>
        </button>
        {preparer && (
          <button
            type="button"
            aria-keyshortcuts="n"
            onClick={() => setOpen("note")}
            className="flex items-center gap-2 rounded-md border border-ink bg-ink px-3 py-1.5 font-semibold text-paper max-sm:px-2"
          >
            Note <Key>N</Key>
          </button>
        )}
        <PersonMenu person={person} roles={roles} showKeys={() => setOpen("keys")} />
      </header>
      <div id="page" className="flex grow flex-col">
        <Suspense fallback={<Waiting label="The page is being read" />}>
          <Switch>
            <Route path="/" component={TodayPage} />
            <Route path="/packets" component={PacketsPage} />
            <Route<PacketParams> path="/packets/:number/:part?/:name?">
              {(params) => (
                <PacketPage
                  key={params.number}
                  number={params.number}
                  part={params.part}
                  name={params.name && decodeURIComponent(params.name)}
                  roles={roles}
                />
              )}
            </Route>
            {REGISTER.map(({ plural }) => (
              <Route key={plural} path={`/${plural}`}>
                <RegisterPage plural={plural} roles={roles} />
              </Route>
            ))}
            <Route path="/assets/:handle">
              {(params) => <AssetPage handle={decodeURIComponent(params.handle)} roles={roles} />}
            </Route>
            <Route path="/contracts/:handle">
              {(params) => <ContractPage handle={decodeURIComponent(params.handle)} roles={roles} />}
            </Route>
            <Route path="/ahead" component={AheadPage} />
            <Route path="/you" component={OwnPage} />
            <Route path="/accounts" component={AccountsPage} />
            <Route path="/desks">
              <DesksPage roles={roles} />
            </Route>
            <Route path="/desks/:desk">
              {(params) => <DeskPage key={params.desk} desk={params.desk} roles={roles} />}
            </Route>
            <Route path="/imports" component={ImportsPage} />
            <Route path="/imports/:ident">{(params) => <ImportPage key={params.ident} ident={params.ident} />}</Route>
            <Route path="/statements" component={StatementsPage} />
            <Route path="/statements/:ident">
              {(params) => <StatementPage key={params.ident} ident={params.ident} />}
            </Route>
            <Route path="/order-documents" component={OrderDocumentsPage} />
            <Route path="/order-documents/:ident">
              {(params) => <OrderDocumentPage key={params.ident} ident={params.ident} />}
            </Route>
            <Route>
              <main className="mx-auto w-full max-w-3xl p-6">
                <h1 className="text-[24px] leading-8">There is no such page</h1>
                <Nothing>Press / to find what you were looking for.</Nothing>
              </main>
            </Route>
          </Switch>
        </Suspense>
      </div>
      <Find open={open === "find"} onChange={toggle("find")} />
      <KeyHelp open={open === "keys"} onChange={toggle("keys")} />
      {open === "note" && <NoteDialog onClose={() => setOpen(null)} />}
    </div>
  );
}
