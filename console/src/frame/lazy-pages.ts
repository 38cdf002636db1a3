/** Pages that are not opened every hour are loaded when they are. */
import { lazy } from "react";

/** What is not opened every hour is read when it is. */
export const AccountsPage = lazy(() =>
  import("../pages/accounts/list").then((read) => ({ default: read.AccountsPage })),
);

export const WebhooksPage = lazy(() =>
  import("../pages/house/webhooks").then((read) => ({ default: read.WebhooksPage })),
);

export const OverviewPage = lazy(() =>
  import("../pages/overview/page").then((read) => ({ default: read.OverviewPage })),
);

export const NoticesPage = lazy(() => import("../pages/notices/page").then((read) => ({ default: read.NoticesPage })));

export const VendorHealthPage = lazy(() =>
  import("../pages/notices/health").then((read) => ({ default: read.VendorHealthPage })),
);
export const NewsPage = lazy(() => import("../pages/notices/news").then((read) => ({ default: read.NewsPage })));

export const NoticeSettingsPage = lazy(() =>
  import("../pages/notices/settings").then((read) => ({ default: read.NoticeSettingsPage })),
);

export const CustodyPage = lazy(() => import("../pages/house/custody").then((read) => ({ default: read.CustodyPage })));

export const PlanPage = lazy(() => import("../pages/house/plan").then((read) => ({ default: read.PlanPage })));

export const OwnPage = lazy(() => import("../pages/accounts/own").then((read) => ({ default: read.OwnPage })));

export const DeskPage = lazy(() => import("../pages/desks/editor").then((read) => ({ default: read.DeskPage })));

export const DesksPage = lazy(() => import("../pages/desks/list").then((read) => ({ default: read.DesksPage })));

export const AheadPage = lazy(() => import("../pages/ahead/page").then((read) => ({ default: read.AheadPage })));

export const ImportPage = lazy(() => import("../pages/imports/page").then((read) => ({ default: read.ImportPage })));

export const ImportsPage = lazy(() => import("../pages/imports/list").then((read) => ({ default: read.ImportsPage })));

export const OrderDocumentPage = lazy(() =>
  import("../pages/order-documents/page").then((read) => ({ default: read.OrderDocumentPage })),
);

export const OrderDocumentsPage = lazy(() =>
  import("../pages/order-documents/list").then((read) => ({ default: read.OrderDocumentsPage })),
);

export const StatementsPage = lazy(() =>
  import("../pages/statements/list").then((read) => ({ default: read.StatementsPage })),
);

export const StatementPage = lazy(() =>
  import("../pages/statements/page").then((read) => ({ default: read.StatementPage })),
);

export const ArticlesPage = lazy(() =>
  import("../pages/know-how/articles").then((read) => ({ default: read.ArticlesPage })),
);

export const KnownIssuesPage = lazy(() =>
  import("../pages/know-how/known-issues").then((read) => ({ default: read.KnownIssuesPage })),
);

export const KitsPage = lazy(() => import("../pages/know-how/kits").then((read) => ({ default: read.KitsPage })));

export const SafePage = lazy(() => import("../pages/know-how/safe").then((read) => ({ default: read.SafePage })));

export const BatchesPage = lazy(() => import("../pages/batches/list").then((read) => ({ default: read.BatchesPage })));

export const BatchPage = lazy(() => import("../pages/batches/page").then((read) => ({ default: read.BatchPage })));
