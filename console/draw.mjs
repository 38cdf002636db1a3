/** Draws a picture from its text: node draw.mjs IN.dot OUT.svg */
import { readFileSync, writeFileSync } from "node:fs";
import { Graphviz } from "@hpcc-js/wasm-graphviz";

const [from, to] = process.argv.slice(2);
const graphviz = await Graphviz.load();
writeFileSync(to, graphviz.dot(readFileSync(from, "utf-8")));
