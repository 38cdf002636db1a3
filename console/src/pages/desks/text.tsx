/** A text in YAML with its line numbers and what is found in it, by CodeMirror; drawn with our own ink. */

import { defaultKeymap, history, historyKeymap } from "@codemirror/commands";
import { yaml } from "@codemirror/lang-yaml";
import { HighlightStyle, syntaxHighlighting } from "@codemirror/language";
import { type Diagnostic, lintGutter, setDiagnostics } from "@codemirror/lint";
import { EditorState } from "@codemirror/state";
import { drawSelection, EditorView, keymap, lineNumbers } from "@codemirror/view";
import { tags } from "@lezer/highlight";
import { forwardRef, useEffect, useImperativeHandle, useRef } from "react";
import type { SheetPreview } from "../../api/desks";
import { STYLE_NONCE } from "../../components/nonce";

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
});

export interface Text {
  /** Show a line and put the cursor there. */
  jump: (line: number) => void;
}

interface Props {
  value: string;
  onChange: (value: string) => void;
  findings: SheetPreview["findings"];
  readOnly: boolean;
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
          keymap.of([...defaultKeymap, ...historyKeymap]),
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
    const marks: Diagnostic[] = findings.map((one) => {
      const line = doc.line(Math.min(Math.max(one.line, 1), doc.lines));
      const begin = line.from + (line.text.length - line.text.trimStart().length);
      return { from: Math.min(begin, line.to), to: line.to, severity: SEVERITY[one.level], message: one.sentence };
    });
    shown.dispatch(setDiagnostics(shown.state, marks));
  }, [findings]);

  useImperativeHandle(ref, () => ({
    jump(line) {
      const shown = view.current;
      if (!shown) return;
      const at = shown.state.doc.line(Math.min(Math.max(line, 1), shown.state.doc.lines)).from;
      shown.dispatch({ selection: { anchor: at }, effects: EditorView.scrollIntoView(at, { y: "center" }) });
      shown.focus();
    },
  }));

  return <div ref={place} className="overflow-hidden rounded-sheet border border-line" />;
});
