/** Links that save rows as a file, one for each format. */

const NAMES = { csv: "CSV", json: "JSON", junit: "JUnit XML" } as const;
type Format = keyof typeof NAMES;

/** `path` is that of the export, without its query. */
export function ExportLinks({ path, formats = ["csv", "json", "junit"] }: { path: string; formats?: Format[] }) {
  return formats.map((format, at) => (
    <span key={format}>
      {at ? ", " : " "}
      <a className="text-ink underline" href={`${path}?as=${format}`} download>
        {NAMES[format]}
      </a>
    </span>
  ));
}
