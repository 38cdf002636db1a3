/** The frame: who is signed in, where one can go, and the keys that work everywhere. */
import { DropdownMenu } from "radix-ui";
import { lazy, Suspense, useState } from "react";
import { Link, Route, Switch, useLocation } from "wouter";
import { useMe, useSignOut } from "./api/data";
import { AssetPage } from "./pages/asset";
import { ContractPage } from "./pages/contract";
import { NoteDialog } from "./pages/note";
import { PacketPage } from "./pages/packet/page";
import { PacketsPage } from "./pages/packets";
import { REGISTER } from "./pages/register/kinds";
import { RegisterPage } from "./pages/register/page";
import { SignInPage } from "./pages/sign-in";
import { TodayPage } from "./pages/today";
import { join, Key, Nothing, ProblemNote, Waiting } from "./parts/basics";
import { Find } from "./parts/find";
import { KeyHelp, useKeys } from "./parts/keys";
import { isIncoming } from "./parts/tabs";
import { applyTheme, chosenTheme, type Theme } from "./parts/theme";

/** What is not opened every hour is read when it is. */
const AccountsPage = lazy(() => import("./pages/accounts/list").then((read) => ({ default: read.AccountsPage })));
const OwnPage = lazy(() => import("./pages/accounts/own").then((read) => ({ default: read.OwnPage })));
const DeskPage = lazy(() => import("./pages/desks/editor").then((read) => ({ default: read.DeskPage })));
const DesksPage = lazy(() => import("./pages/desks/list").then((read) => ({ default: read.DesksPage })));
const AheadPage = lazy(() => import("./pages/ahead").then((read) => ({ default: read.AheadPage })));
const ImportPage = lazy(() => import("./pages/imports").then((read) => ({ default: read.ImportPage })));
const ImportsPage = lazy(() => import("./pages/imports").then((read) => ({ default: read.ImportsPage })));
const OrderDocumentPage = lazy(() =>
  import("./pages/order-documents/page").then((read) => ({ default: read.OrderDocumentPage })),
);
const OrderDocumentsPage = lazy(() =>
  import("./pages/order-documents/list").then((read) => ({ default: read.OrderDocumentsPage })),
);
const StatementsPage = lazy(() => import("./pages/statements/list").then((read) => ({ default: read.StatementsPage })));
const StatementPage = lazy(() => import("./pages/statements/page").then((read) => ({ default: read.StatementPage })));

export function App() {
  const me = useMe();
  if (me.isPending) return <div className="min-h-dvh bg-paper" />;
  if (me.error && me.error.status !== 401) {
    return (
      <main className="mx-auto max-w-md p-8">
        <h1 className="mb-3 text-[24px] leading-8">Seal Packet</h1>
        <ProblemNote problem={me.error} />
      </main>
    );
  }
  return me.data ? <Frame person={me.data.person} roles={me.data.roles} /> : <SignInPage />;
}

type PacketParams = { number: string; part?: string; name?: string };

/** Where one can go; some places are for some roles only. */
const PLACES: [to: string, name: string, role?: string][] = [
  ["/", "Today"],
  ["/packets", "Packets"],
  ["/assets", "Assets"],
  ["/contracts", "Contracts"],
  ["/ahead", "Ahead"],
  ["/desks", "Desks"],
  ["/imports", "Imports", "keeper"],
];

function Frame({ person, roles }: { person: string; roles: string[] }) {
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

function PersonMenu({ person, roles, showKeys }: { person: string; roles: string[]; showKeys: () => void }) {
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
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={8}
          className="z-20 min-w-52 rounded-sheet border border-line bg-sheet p-1.5"
        >
          <DropdownMenu.Label className="px-3 py-1 text-soft">{roles.join(", ")}</DropdownMenu.Label>
          <DropdownMenu.Separator className="my-1 border-t border-line" />
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
          <DropdownMenu.Separator className="my-1 border-t border-line" />
          <DropdownMenu.Item className={item} onSelect={() => go("/you")}>
            Password and tokens
          </DropdownMenu.Item>
          {roles.includes("admin") && (
            <DropdownMenu.Item className={item} onSelect={() => go("/accounts")}>
              Accounts
            </DropdownMenu.Item>
          )}
          <DropdownMenu.Item className={item} onSelect={showKeys}>
            Keys <Key>?</Key>
          </DropdownMenu.Item>
          <DropdownMenu.Item className={item} onSelect={() => signOut.mutate()}>
            Sign out
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
