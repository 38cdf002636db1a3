/** Which page is at which address. */

import { Route, Switch } from "wouter";
import { Nothing } from "../components/nothing";
import { PageTitle } from "../components/page-title";
import { PacketsPage } from "../pages/packets/list";
import { PacketPage } from "../pages/packets/page";
import { AssetPage } from "../pages/register/asset";
import { ContractPage } from "../pages/register/contract";
import { REGISTER } from "../pages/register/kinds";
import { RegisterPage } from "../pages/register/page";
import { TodayPage } from "../pages/today";
import {
  AccountsPage,
  AheadPage,
  ArticlesPage,
  BatchesPage,
  BatchPage,
  CustodyPage,
  DeskPage,
  DesksPage,
  ImportPage,
  ImportsPage,
  KitsPage,
  KnownIssuesPage,
  NewsPage,
  NoticeSettingsPage,
  NoticesPage,
  OrderDocumentPage,
  OrderDocumentsPage,
  OverviewPage,
  OwnPage,
  PlanPage,
  SafePage,
  StatementPage,
  StatementsPage,
  VendorHealthPage,
  WebhooksPage,
} from "./lazy-pages";

type PacketParams = { number: string; part?: string; name?: string };

export function Routes({ roles }: { roles: string[] }) {
  return (
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
      <Route path="/batches" component={BatchesPage} />
      <Route path="/batches/:ident">{(params) => <BatchPage key={params.ident} ident={params.ident} />}</Route>
      <Route path="/ahead" component={AheadPage} />
      <Route path="/overview" component={OverviewPage} />
      <Route path="/notices/list" component={NoticesPage} />
      <Route path="/notices/news" component={NewsPage} />
      <Route path="/notices/health" component={VendorHealthPage} />
      <Route path="/notices/settings" component={NoticeSettingsPage} />
      <Route path="/you" component={OwnPage} />
      <Route path="/accounts" component={AccountsPage} />
      <Route path="/webhooks" component={WebhooksPage} />
      <Route path="/custody">
        <CustodyPage roles={roles} />
      </Route>
      <Route path="/redaction-plan">
        <PlanPage roles={roles} />
      </Route>
      <Route path="/desks">
        <DesksPage roles={roles} />
      </Route>
      <Route path="/desks/:desk">{(params) => <DeskPage key={params.desk} desk={params.desk} roles={roles} />}</Route>
      <Route path="/articles">
        <ArticlesPage roles={roles} />
      </Route>
      <Route path="/known-issues">
        <KnownIssuesPage roles={roles} />
      </Route>
      <Route path="/kits">
        <KitsPage roles={roles} />
      </Route>
      <Route path="/safe">
        <SafePage roles={roles} />
      </Route>
      <Route path="/imports" component={ImportsPage} />
      <Route path="/imports/:ident">{(params) => <ImportPage key={params.ident} ident={params.ident} />}</Route>
      <Route path="/statements" component={StatementsPage} />
      <Route path="/statements/:ident">{(params) => <StatementPage key={params.ident} ident={params.ident} />}</Route>
      <Route path="/order-documents" component={OrderDocumentsPage} />
      <Route path="/order-documents/:ident">
        {(params) => <OrderDocumentPage key={params.ident} ident={params.ident} />}
      </Route>
      <Route>
        <main className="mx-auto w-full max-w-3xl p-6">
          <PageTitle>There is no such page</PageTitle>
          <Nothing>Press / to find what you were looking for.</Nothing>
        </main>
      </Route>
    </Switch>
  );
}
