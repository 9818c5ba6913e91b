/** The address rule as rows to edit, and back to its written language; what it means, the API says. */

export type RuleLine = { left: string; right: string; only: boolean; dropsQuery: boolean };
export type RuleForm = { lines: RuleLine[]; slash: "keep" | "add" | "remove"; other: string[] };

export function parse(text: string): RuleForm {
  const form: RuleForm = { lines: [], slash: "keep", other: [] };
  for (const raw of text.split("\n")) {
    const line = raw.trim();
    const slash = /^slash\s+(keep|add|remove)$/.exec(line)?.[1];
    const rule = /^(only\s+)?(.*?)\s*->\s*(.*?)(\s+;\s+query\s+(drop|keep))?$/.exec(line);
    if (slash) form.slash = slash as RuleForm["slash"];
    else if (rule && !line.startsWith("#"))
      form.lines.push({ left: rule[2] ?? "", right: rule[3] ?? "", only: Boolean(rule[1]), dropsQuery: rule[5] === "drop" });
    else if (line) form.other.push(raw);
  }
  return form;
}

export function write(form: RuleForm): string {
  const lines = form.lines
    .filter((line) => line.left.trim() || line.right.trim())
    .map((line) => `${line.only ? "only " : ""}${line.left.trim()} -> ${line.right.trim()}${line.dropsQuery ? " ; query drop" : ""}`);
  return [...form.other, ...lines, ...(form.slash === "keep" ? [] : [`slash ${form.slash}`])].join("\n");
}
