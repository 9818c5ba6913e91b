/** The address rule as rows to edit, and back to its written language; what it means, the API says. */

export type RuleLine = { left: string; right: string; only: boolean; dropsQuery: boolean };
export type RuleForm = {
  lines: RuleLine[];
  slash: "keep" | "add" | "remove";
  /** Where the copy is reached for now, if not at its final address. */
  temporary: string;
  final: string;
  other: string[];
};

export function parse(text: string): RuleForm {
  const form: RuleForm = { lines: [], slash: "keep", temporary: "", final: "", other: [] };
  for (const raw of text.split("\n")) {
    const line = raw.trim();
    const slash = /^slash\s+(keep|add|remove)$/.exec(line)?.[1];
    const rule = /^(only\s+)?(.*?)\s*->\s*(.*?)(\s+;\s+query\s+(drop|keep))?$/.exec(line);
    const at = /^(\S+)\s+at\s+(\S+)$/.exec(line);
    if (at && !line.startsWith("#")) [form.final, form.temporary] = [at[1] ?? "", at[2] ?? ""];
    else if (slash) form.slash = slash as RuleForm["slash"];
    else if (rule && !line.startsWith("#"))
      form.lines.push({ left: rule[2] ?? "", right: rule[3] ?? "", only: Boolean(rule[1]), dropsQuery: rule[5] === "drop" });
    else if (line) form.other.push(raw);
  }
  return form;
}

/** Write a rule; ``base`` is the destination's address, the final form of what a temporary one stands for. */
export function write(form: RuleForm, base: string): string {
  const lines = form.lines
    .filter((line) => line.left.trim() || line.right.trim())
    .map((line) => `${line.only ? "only " : ""}${line.left.trim()} -> ${line.right.trim()}${line.dropsQuery ? " ; query drop" : ""}`);
  const at = form.temporary.trim() ? [`${form.final || base.trim()} at ${form.temporary.trim()}`] : [];
  return [...form.other, ...lines, ...at, ...(form.slash === "keep" ? [] : [`slash ${form.slash}`])].join("\n");
}
