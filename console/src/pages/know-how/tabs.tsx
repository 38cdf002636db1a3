/** The tabs of what the house knows: articles, known issues, kits, and the safe with what kits need. */
import { type Tab, Tabs } from "../../components/tabs";

const KNOWN: Tab[] = [
  ["/articles", "Articles"],
  ["/known-issues", "Known issues"],
  ["/kits", "Diagnostic kits"],
];
const SAFE: Tab = ["/safe", "Safe"];

export const isKnowHow = (where: string) => [...KNOWN, SAFE].some(([to]) => where.startsWith(to));

export const KnowHowTabs = ({ keeper }: { keeper: boolean }) => (
  <Tabs label="Know-how" tabs={keeper ? [...KNOWN, SAFE] : KNOWN} />
);
