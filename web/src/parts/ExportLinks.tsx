/** Links that save what a view shows as a file, one for each format. */

const NAMES = { csv: "CSV", json: "JSON", junit: "JUnit XML", txt: "text", md: "Markdown" } as const;
type Format = keyof typeof NAMES;

/** How a list of what is to be done can be saved. */
export const TO_DO: Format[] = ["txt", "md", "csv"];

/** `path` is that of the export, without its query; of `query`, what is empty is left out. */
type Props = { path: string; formats?: Format[]; query?: Record<string, string> };

export function ExportLinks({ path, formats = ["csv", "json", "junit"], query = {} }: Props) {
  const chosen = Object.entries(query).filter(([, value]) => value);
  return formats.map((format, at) => (
    <span key={format}>
      {at ? ", " : " "}
      <a className="text-ink underline" href={`${path}?${new URLSearchParams([...chosen, ["as", format]]).toString()}`} download>
        {NAMES[format]}
      </a>
    </span>
  ));
}
