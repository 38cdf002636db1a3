/** The tabs of notices. */
import { type Tab, Tabs } from "../../components/tabs";

const TABS: Tab[] = [
  ["/notices/list", "Notices"],
  ["/notices/news", "Product news"],
  ["/notices/health", "Vendor health"],
  ["/notices/settings", "How you are notified"],
];

export const NoticeTabs = () => <Tabs label="Notices" tabs={TABS} />;
