/** The catalogue of messages: every sentence can be made, says what it is given, and no other room of the house writes one. */
import { readdirSync, readFileSync, statSync } from "node:fs";
import { join } from "node:path";
import { parse, TYPE, type MessageFormatElement } from "@formatjs/icu-messageformat-parser";
import ts from "typescript";
import { CATALOGUE } from "./catalogue";
import { asMessage, isMessage, message, ToldError, written, type Message, type MessageCode } from "./message";
import { say } from "./say";
import { sentence, title } from "./sentence";

const CODES = Object.keys(CATALOGUE) as MessageCode[];

/** Names that a text asks for, as the parser of the library finds them. */
function namesIn(elements: MessageFormatElement[]): string[] {
  return elements.flatMap((e) => {
    if (e.type === TYPE.literal || e.type === TYPE.pound) return [];
    const inside = e.type === TYPE.plural || e.type === TYPE.select ? Object.values(e.options).flatMap((o) => namesIn(o.value)) : [];
    return e.type === TYPE.tag ? namesIn(e.children) : [e.value, ...inside];
  });
}

it.each(CODES)("%s becomes a sentence with all that it names", (code) => {
  const names = [...new Set(namesIn(parse(CATALOGUE[code])))];
  const told = sentence({ code, values: Object.fromEntries(names.map((name) => [name, 2])) });
  expect(told).not.toBe(code);
  expect(told).not.toMatch(/[{}#]|undefined/);
  // a value that is missing never takes the screen with it
  if (names.length > 0) expect(sentence({ code, values: {} })).toBe(code);
});

it("plurals, figures, lists and messages within messages are as a person reads them", () => {
  expect(sentence(message("step.gathered", { count: 1 }))).toBe("1 frame gathered");
  expect(sentence(message("step.gathered", { count: 5 }))).toBe("5 frames gathered");
  expect(sentence(message("merge.unused", { count: 1, numbers: [3] }))).toBe("Frame 3 is unused: nothing of the picture comes from there.");
  expect(sentence(message("merge.unused", { count: 3, numbers: [1, 2, 3] }))).toBe("Frames 1, 2 and 3 are unused: nothing of the picture comes from there.");
  const noted = [message("merge.noted", { number: 2, told: -1.96, measured: 0.01 }), message("merge.noted", { number: 3, told: 2, measured: -2 })];
  expect(sentence(message("merge.contradicted", { frames: noted }))).toContain(
    "against the reference frame 2 is noted at −2.0 EV and measures 0.0 EV and frame 3 is noted at +2.0 EV and measures −2.0 EV. Either",
  );
  expect(sentence(message("parity.barrel", { k1: -0.0123, others: 1 }))).toBe("k1 −0.012 against the other: barrel distortion that the others lack");
  expect(title("aspect.colorSpace")).toBe("Colour space");
});

it("figures get a true minus, names of files keep their hyphens", () => {
  expect(say("{v, number, ::.0}", { v: -1.25 })).toBe("−1.3");
  expect(sentence(message("gathering.again", { name: "reeds-2-1.jpg" }))).toMatch(/^reeds-2-1\.jpg is/);
  expect(sentence(written("IMG-12 − 3 {x} # '"))).toBe("IMG-12 − 3 {x} # '");
});

it("what a file says is a message only within its limits", () => {
  const nested = (depth: number): unknown => ({ code: "a", values: depth === 0 ? {} : { v: nested(depth - 1) } });
  for (const sound of [written(""), { code: "of.later", values: { n: 1, list: ["a", written("b")] } }, nested(3)])
    expect([sound, isMessage(sound)]).toEqual([sound, true]);
  const unsound = [null, "text", [], {}, { code: "a" }, { code: "", values: {} }, { code: "a", values: [] }, { code: "a", values: { v: NaN } }, nested(9)];
  const more = [
    { code: "a", values: { v: null } },
    { code: "a", values: { v: "x".repeat(1001) } },
    { code: "a", values: { v: Array(65).fill(1) } },
    { code: "a", values: {}, x: 1 },
  ];
  for (const value of [...unsound, ...more]) expect([value, isMessage(value)]).toEqual([value, false]);
});

it("a code of another version is shown as it is, and an error says its code to a log", () => {
  expect(sentence({ code: "of.later" as MessageCode, values: {} })).toBe("of.later");
  expect(sentence({ code: "toString" as MessageCode, values: {} })).toBe("toString");
  const error = new ToldError(message("exr.packing", { number: 11 }));
  expect([error.message, error.told]).toEqual(['exr.packing {"number":11}', { code: "exr.packing", values: { number: 11 } } satisfies Message]);
  expect(new ToldError("png.damaged").message).toBe("png.damaged");
  expect(asMessage("png.damaged")).toEqual({ code: "png.damaged", values: {} });
});

/** Rooms that only tell codes. */
const SILENT_ROOMS = ["core", "kernels", "document", "formats", "engine", "storage", "workers", "session"];
/** Texts that are no sentences of Marsh: what is named so elsewhere, what a person may change, and faults that are for programmers. */
const NO_SENTENCES = [
  // names of formats, spaces and curves, and of this program, as files carry them
  /^(Radiance|camera raw|Display P3|Rec\. 2020, sRGB curve|sRGB curve|unnamed profile|linear, primaries of its own|primaries of its own|No copyright, use freely|Marsh|Make|Model|Copyright|Software|Orientation)$/,
  // validators of records, whose fault is a value of a sentence
  /\$\{path\}|^\{\} must be at most/,
  // names and notes of regions and layers, which a person may change
  /^(\{\}, all across|Laid by the weave\.|From the look "\{\}"\.|Local tone compression|White balance|Contrast about a pivot|Tone response)$/,
  // rows and columns of a layout
  /minmax\(/,
  // parts of keys, and names of colours and threads
  /^(use client|at level|beyond blur|\{\}, response recovered|engine on \{\})$/,
];
const files = (folder: string): string[] =>
  readdirSync(folder).flatMap((name) => {
    const path = join(folder, name);
    return statSync(path).isDirectory() ? files(path) : /\.tsx?$/.test(name) && !/\.test\.|\.d\.ts$/.test(name) ? [path] : [];
  });

/** Whether something is only thrown at programmers: the text of an error that is none of those that are told. */
function isForProgrammers(node: ts.Node): boolean {
  for (let at = node.parent; at && !ts.isBlock(at); at = at.parent) {
    if (ts.isNewExpression(at) && /^(Range|Type|Inflate)?Error$/.test(at.expression.getText())) return true;
  }
  return false;
}

/** Texts of two words or more in a file. */
function sentencesIn(path: string): string[] {
  const source = ts.createSourceFile(path, readFileSync(path, "utf8"), ts.ScriptTarget.Latest, true, path.endsWith("x") ? ts.ScriptKind.TSX : ts.ScriptKind.TS);
  const found: string[] = [];
  const visit = (node: ts.Node): void => {
    // styles are tagged templates
    if (ts.isImportDeclaration(node) || ts.isTaggedTemplateExpression(node)) return;
    const text =
      ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node) || ts.isJsxText(node)
        ? node.text.trim()
        : ts.isTemplateExpression(node)
          ? node.head.text + node.templateSpans.map((s) => `{}${s.literal.text}`).join("")
          : "";
    if (
      /[A-Za-z]{2,} [a-z]{2,}/.test(text) &&
      !/[;:]\s*$|^[a-z-]+: |^@|px solid/.test(text) &&
      !NO_SENTENCES.some((no) => no.test(text)) &&
      !isForProgrammers(node)
    )
      found.push(`${path}:${source.getLineAndCharacterOfPosition(node.getStart()).line + 1} ${text.slice(0, 120)}`);
    ts.forEachChild(node, visit);
  };
  visit(source);
  return found;
}

it.each(SILENT_ROOMS)("src/%s writes no sentence of its own", (room) => {
  const all = files(join("src", room)).filter((path) => !/kernels.assembly|document.migrations/.test(path));
  expect(all.length).toBeGreaterThan(3);
  expect(all.flatMap(sentencesIn)).toEqual([]);
});

/** Rooms of the screen, whose words come from the catalogue, single ones too. */
const SHOWN = ["features", "view", "ui", "app", "kinds"];
/** Units, signs and names that are the same in every language, and what browsers read. */
const UNWORDED = /^(k1|ISO|JPEG|L\*|[xyRGBCh]|EV|px|sRGB|p\d+|f)$/;

/** Words that a component shows of its own: text between elements, and what attributes of names and labels hold. */
function wordsShownIn(path: string): string[] {
  const source = ts.createSourceFile(path, readFileSync(path, "utf8"), ts.ScriptTarget.Latest, true, ts.ScriptKind.TSX);
  const found: string[] = [];
  const note = (node: ts.Node, text: string) => {
    const words = text.split(/[\s:,.;()×+−/…]+/).filter((word) => /[A-Za-z]{2}/.test(word) && !/^&\w+$/.test(word) && !UNWORDED.test(word));
    // a code is no word
    if (Object.hasOwn(CATALOGUE, text)) return;
    if (words.length > 0) found.push(`${path}:${source.getLineAndCharacterOfPosition(node.getStart()).line + 1} ${text.trim()}`);
  };
  const visit = (node: ts.Node): void => {
    if (ts.isJsxText(node)) note(node, node.text);
    if (ts.isJsxAttribute(node) && node.initializer && /^(label|name|title|hint|word|does|placeholder|aria-label|summary)$/.test(node.name.getText())) {
      if (ts.isStringLiteral(node.initializer)) note(node, node.initializer.text);
    }
    if (ts.isPropertyAssignment(node) && /^(label|name|title|hint|word|does)$/.test(node.name.getText()) && ts.isStringLiteral(node.initializer))
      note(node, node.initializer.text);
    ts.forEachChild(node, visit);
  };
  visit(source);
  return found;
}

it.each(SHOWN)("src/%s takes its words from the catalogue", (room) => {
  const all = files(join("src", room)).filter((path) => (room === "kinds" ? path.endsWith(".tsx") : !/app.(api|manifest|layout)|tokens/.test(path)));
  expect(all.length).toBeGreaterThan(3);
  expect(all.flatMap(sentencesIn)).toEqual([]);
  expect(all.filter((path) => path.endsWith("x")).flatMap(wordsShownIn)).toEqual([]);
});

it("every code of the catalogue is told somewhere", () => {
  const told = files("src")
    .filter((path) => !path.includes(join("messages", "catalogue")))
    .map((path) => readFileSync(path, "utf8"))
    .join("\n");
  const families = [...told.matchAll(/`([a-zA-Z/.]+\.)\$\{/g)].map(([, family]) => family);
  const untold = CODES.filter((code) => !told.includes(`"${code}"`) && !families.some((family) => code.startsWith(family)));
  expect(untold).toEqual([]);
});
