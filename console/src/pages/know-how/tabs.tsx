/** The tabs of what the house knows: articles, known issues, kits, and the secrets that kits use. */
import { type Tab, Tabs } from "../../components/tabs";

const KNOWN: Tab[] = [
  ["/articles", "Articles"],
  ["/known-issues", "Known issues"],
  ["/kits", "Diagnostic kits"],
];
const SECRETS: Tab = ["/secrets", "Secrets"];

export const isKnowHow = (where: string) => [...KNOWN, SECRETS].some(([to]) => where.startsWith(to));

export const KnowHowTabs = ({ keeper }: { keeper: boolean }) => (
  <Tabs label="Know-how" tabs={keeper ? [...KNOWN, SECRETS] : KNOWN} />
);
