/** A part of the overview as a chart. Every mark opens the packets behind it; the table beside has the same links. */
import { Bar, BarChart, CartesianGrid, Tooltip, XAxis, YAxis } from "recharts";
import { useLocation } from "wouter";
import type { OverviewTable } from "../../api/overview";
import type { Drawn } from "./parts";

const ROW = 34;
const MOST = 14;
const WIDTH = 520;

type Mark = Record<string, string | number | null>;

export function PartChart({ table, drawn }: { table: OverviewTable; drawn: Drawn }) {
  const [, go] = useLocation();
  const rows: Mark[] = table.rows.slice(0, drawn.lying ? MOST : undefined).map((row) => ({
    name: row.name,
    ...Object.fromEntries(row.numbers.map((one) => [one.name, one.value])),
    ...Object.fromEntries(row.numbers.map((one) => [`${one.name} →`, one.packets])),
  }));
  const height = drawn.lying ? Math.max(rows.length, 2) * ROW + 40 : 220;
  const names = {
    dataKey: "name",
    type: "category" as const,
    tickLine: false,
    tick: { fill: "var(--soft)", fontSize: 12 },
  };
  const numbers = {
    type: "number" as const,
    allowDecimals: drawn.unit !== undefined,
    tick: { fill: "var(--soft)", fontSize: 12 },
  };
  return (
    <div aria-hidden className="min-w-0 overflow-x-auto">
      <BarChart
        width={WIDTH}
        height={height}
        data={rows}
        layout={drawn.lying ? "vertical" : "horizontal"}
        margin={{ top: 4, right: 12, bottom: 0, left: 0 }}
        accessibilityLayer={false}
      >
        <CartesianGrid stroke="var(--line)" horizontal={!drawn.lying} vertical={drawn.lying ?? false} />
        {drawn.lying ? <XAxis {...numbers} unit={drawn.unit ?? ""} /> : <XAxis {...names} />}
        {drawn.lying ? <YAxis {...names} width={170} /> : <YAxis {...numbers} width={34} />}
        <Tooltip
          cursor={{ fill: "var(--paper)" }}
          contentStyle={{ background: "var(--sheet)", border: "1px solid var(--line)", borderRadius: 8 }}
        />
        {drawn.series.map(([name, colour]) => (
          <Bar
            key={name}
            dataKey={name}
            fill={colour}
            unit={drawn.unit ?? ""}
            stackId={drawn.stacked ? "all" : undefined}
            isAnimationActive={false}
            maxBarSize={22}
            className="cursor-pointer"
            onClick={(mark) => {
              const packets = (mark.payload as Mark | undefined)?.[`${name} →`];
              if (packets) go(`/packets?${packets}`);
            }}
          />
        ))}
      </BarChart>
    </div>
  );
}
