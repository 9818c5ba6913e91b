/** Links that save what is to be done as a file: for one person, or for all. */

const NAMES = { txt: "text", md: "Markdown", csv: "CSV" } as const;

export function ToDoLinks({ comparison, who }: { comparison: number; who: string }) {
  return (Object.keys(NAMES) as (keyof typeof NAMES)[]).map((format, at) => (
    <span key={format}>
      {at ? ", " : " "}
      <a className="text-ink underline" href={`/api/comparisons/${comparison}/to-do/?${new URLSearchParams({ ...(who ? { who } : {}), as: format }).toString()}`} download>
        {NAMES[format]}
      </a>
    </span>
  ));
}
