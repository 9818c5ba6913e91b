/** The address rule as rows to edit, and back to its written language; what it means, the API says. */
import { origin } from "./host";

export type RuleLine = { left: string; right: string; only: boolean; dropsQuery: boolean };
export type RuleForm = {
  lines: RuleLine[];
  slash: "keep" | "add" | "remove";
  /** Where hosts of the copy are reached for now, if not at their final addresses. */
  at: { final: string; temporary: string }[];
  other: string[];
};

export function parse(text: string): RuleForm {
  const form: RuleForm = { lines: [], slash: "keep", at: [], other: [] };
  for (const raw of text.split("\n")) {
    const line = raw.trim();
    const slash = /^slash\s+(keep|add|remove)$/.exec(line)?.[1];
    const rule = /^(only\s+)?(.*?)\s*->\s*(.*?)(\s+;\s+query\s+(drop|keep))?$/.exec(line);
    const at = /^(\S+)\s+at\s+(\S+)$/.exec(line);
    if (at && !line.startsWith("#")) form.at.push({ final: at[1] ?? "", temporary: at[2] ?? "" });
    else if (slash) form.slash = slash as RuleForm["slash"];
    else if (rule && !line.startsWith("#"))
      form.lines.push({ left: rule[2] ?? "", right: rule[3] ?? "", only: Boolean(rule[1]), dropsQuery: rule[5] === "drop" });
    else if (line) form.other.push(raw);
  }
  return form;
}

/** Where a host of the copy is reached for now; empty for at its own address. */
export function temporaryOf(form: RuleForm, base: string): string {
  return form.at.find((one) => stands(one.final, base))?.temporary ?? "";
}

/** The rule with another temporary address for a host of the copy. */
export function withTemporary(form: RuleForm, base: string, temporary: string): RuleForm {
  const others = form.at.filter((one) => !stands(one.final, base));
  return { ...form, at: temporary ? [...others, { final: base.trim(), temporary }] : others };
}

/** The rule after a host of the copy was given another address: what it is reached at for now stays. */
export function renamed(form: RuleForm, from: string, to: string): RuleForm {
  return { ...form, at: form.at.map((one) => (stands(one.final, from) ? { ...one, final: to.trim() } : one)) };
}

/** Whether an address of the copy is that of one of its hosts. */
function stands(final: string, base: string): boolean {
  return Boolean(base) && (final.trim() === base.trim() || (origin(final) !== "" && origin(final) === origin(base)));
}

export function write(form: RuleForm): string {
  const lines = form.lines
    .filter((line) => line.left.trim() || line.right.trim())
    .map((line) => `${line.only ? "only " : ""}${line.left.trim()} -> ${line.right.trim()}${line.dropsQuery ? " ; query drop" : ""}`);
  const at = form.at.filter((one) => one.temporary.trim()).map((one) => `${one.final} at ${one.temporary.trim()}`);
  return [...form.other, ...lines, ...at, ...(form.slash === "keep" ? [] : [`slash ${form.slash}`])].join("\n");
}

/** The line of the address rule that a sentence proposes, in quotes; empty for none. */
export function lineIn(said: string): string {
  return /“([^“”]+ -> [^“”]+)”/.exec(said)?.[1] ?? "";
}
