/** The tabs of everything that comes in from files. */
import { type Tab, Tabs } from "../components/tabs";

const INCOMING: Tab[] = [
  ["/imports", "Lists"],
  ["/order-documents", "Order documents"],
  ["/statements", "Vendor statements"],
];

export const isIncoming = (where: string) => INCOMING.some(([to]) => where.startsWith(to));

/** Everything that comes in from outside. */
export const IncomingTabs = () => <Tabs label="Incoming" tabs={INCOMING} />;
