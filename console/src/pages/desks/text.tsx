/** A text in YAML with its line numbers and what is found in it, by CodeMirror; drawn with our own ink. */

import { autocompletion, completionKeymap } from "@codemirror/autocomplete";
import { defaultKeymap, history, historyKeymap } from "@codemirror/commands";
import { yaml } from "@codemirror/lang-yaml";
import { foldGutter, foldKeymap, HighlightStyle, syntaxHighlighting } from "@codemirror/language";
import { type Diagnostic, lintGutter, setDiagnostics } from "@codemirror/lint";
import { highlightSelectionMatches, search, searchKeymap } from "@codemirror/search";
import { type Text as Document, EditorState } from "@codemirror/state";
import { drawSelection, EditorView, keymap, lineNumbers } from "@codemirror/view";
import { tags } from "@lezer/highlight";
import { forwardRef, useEffect, useImperativeHandle, useRef } from "react";
import type { SheetPreview } from "../../api/desks";
import { STYLE_NONCE } from "../../components/nonce";
import { complete, explain } from "./completing";

const INK = HighlightStyle.define([
  { tag: [tags.propertyName, tags.definition(tags.propertyName)], color: "var(--color-ink)", fontWeight: "600" },
  { tag: tags.comment, color: "var(--color-soft)", fontStyle: "italic" },
  { tag: [tags.string, tags.content], color: "var(--color-slate)" },
  { tag: [tags.bool, tags.number, tags.null], color: "var(--color-moss)" },
]);

const LOOK = EditorView.theme({
  "&": { fontSize: "12.5px", backgroundColor: "var(--color-sheet)", color: "var(--color-ink)" },
  ".cm-scroller": {
    fontFamily: "var(--font-mono)",
    lineHeight: "20px",
    maxHeight: "calc(100dvh - 130px)",
    minHeight: "380px",
  },
  ".cm-gutters": { backgroundColor: "var(--color-sheet)", color: "var(--color-soft)", border: "none" },
  ".cm-content": { caretColor: "var(--color-ink)" },
  "&.cm-focused": { outline: "2px solid var(--color-slate)", outlineOffset: "1px" },
  "&.cm-focused .cm-selectionBackground, .cm-selectionBackground": { backgroundColor: "var(--color-line) !important" },
  ".cm-cursor": { borderLeftColor: "var(--color-ink)" },
  ".cm-tooltip": {
    backgroundColor: "var(--color-sheet)",
    border: "1px solid var(--color-line)",
    color: "var(--color-ink)",
  },
  ".cm-tooltip-autocomplete > ul": { fontFamily: "var(--font-mono)", maxHeight: "220px" },
  ".cm-tooltip-autocomplete > ul > li[aria-selected]": {
    backgroundColor: "var(--color-line) !important",
    color: "var(--color-ink) !important",
  },
  ".cm-completionInfo": { maxWidth: "320px", fontFamily: "var(--font-sans)", padding: "4px 10px" },
  ".cm-completionMatchedText": { textDecoration: "none", fontWeight: "700" },
  ".cm-diagnosticAction": {
    backgroundColor: "transparent",
    color: "var(--color-slate)",
    textDecoration: "underline",
    fontFamily: "var(--font-mono)",
  },
  ".cm-panels": { backgroundColor: "var(--color-paper)", color: "var(--color-ink)" },
  ".cm-textfield, .cm-button": {
    backgroundColor: "var(--color-sheet)",
    backgroundImage: "none",
    border: "1px solid var(--color-line)",
    color: "var(--color-ink)",
  },
  ".cm-foldPlaceholder": { backgroundColor: "var(--color-line)", border: "none", color: "var(--color-soft)" },
});

export interface Text {
  /** Show a line and put the cursor there. */
  jump: (line: number, column: number) => void;
  /** Another text altogether; it can be undone. */
  replace: (text: string) => void;
  /** Put the right word in the place of the marked one. */
  fix: (finding: Finding) => void;
}

interface Props {
  value: string;
  onChange: (value: string) => void;
  findings: SheetPreview["findings"];
  readOnly: boolean;
}

type Finding = SheetPreview["findings"][number];

/** Where a finding stands in the text, which may have changed since. */
function marked(doc: Document, one: Finding): { from: number; to: number } {
  const at = (line: number, column: number) => {
    const found = doc.line(Math.min(Math.max(line, 1), doc.lines));
    return Math.min(found.from + Math.max(column - 1, 0), found.to);
  };
  const from = at(one.line, one.column);
  const end = one.end_line > one.line + 3 ? doc.lineAt(from).to : at(one.end_line, one.end_column);
  return { from, to: Math.max(from, end) };
}

function mend(view: EditorView, one: Finding) {
  if (!one.fix) return;
  const { from, to } = marked(view.state.doc, one);
  view.dispatch({ changes: { from, to, insert: one.fix }, selection: { anchor: from + one.fix.length } });
  view.focus();
}

const SEVERITY = { stop: "error", warn: "warning", hint: "info" } as const;

export const YamlText = forwardRef<Text, Props>(function YamlText({ value, onChange, findings, readOnly }, ref) {
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(null);
  const told = useRef(onChange);
  told.current = onChange;
  const first = useRef(value);

  useEffect(() => {
    if (!place.current) return;
    const made = new EditorView({
      parent: place.current,
      state: EditorState.create({
        doc: first.current,
        extensions: [
          lineNumbers(),
          history(),
          drawSelection(),
          foldGutter(),
          search({ top: true }),
          highlightSelectionMatches(),
          autocompletion({ override: [complete], icons: false }),
          explain,
          keymap.of([...completionKeymap, ...searchKeymap, ...foldKeymap, ...defaultKeymap, ...historyKeymap]),
          yaml(),
          syntaxHighlighting(INK),
          lintGutter(),
          LOOK,
          EditorState.readOnly.of(readOnly),
          EditorView.cspNonce.of(STYLE_NONCE),
          EditorView.contentAttributes.of({ "aria-label": "The sheet in YAML", tabindex: "0" }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) told.current(update.state.doc.toString());
          }),
        ],
      }),
    });
    view.current = made;
    return () => made.destroy();
  }, [readOnly]);

  useEffect(() => {
    const shown = view.current;
    if (!shown) return;
    const { doc } = shown.state;
    const marks: Diagnostic[] = findings.map((one) => ({
      ...marked(doc, one),
      severity: SEVERITY[one.level],
      message: `${one.sentence} ${one.remedy}`.trim(),
      actions: one.fix ? [{ name: `Write ${one.fix}`, apply: (view) => mend(view, one) }] : [],
    }));
    shown.dispatch(setDiagnostics(shown.state, marks));
  }, [findings]);

  useImperativeHandle(ref, () => ({
    replace(text) {
      const shown = view.current;
      if (!shown) return;
      shown.dispatch({ changes: { from: 0, to: shown.state.doc.length, insert: text } });
      shown.focus();
    },
    fix(finding) {
      if (view.current) mend(view.current, finding);
    },
    jump(line, column) {
      const shown = view.current;
      if (!shown) return;
      const found = shown.state.doc.line(Math.min(Math.max(line, 1), shown.state.doc.lines));
      const at = Math.min(found.from + Math.max(column - 1, 0), found.to);
      shown.dispatch({ selection: { anchor: at }, effects: EditorView.scrollIntoView(at, { y: "center" }) });
      shown.focus();
    },
  }));

  return <div ref={place} className="overflow-hidden rounded-sheet border border-line" />;
});
