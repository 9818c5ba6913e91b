/** A field for one file to import. */
export function FileField({ onChange }: { onChange: (file: File | null) => void }) {
  return (
    <label className="block">
      <span className="text-soft mb-1 block text-[13px]">File</span>
      <input
        type="file"
        required
        className="border-line file:border-line file:bg-leaf file:text-ink w-full text-[14px] file:mr-3 file:rounded-[3px] file:border file:px-3 file:py-1.5 file:font-bold"
        onChange={(event) => onChange(event.target.files?.[0] ?? null)}
      />
    </label>
  );
}

/** The body of a request that carries a file beside other fields. */
export function formOf(file: File, fields: Record<string, string> = {}): FormData {
  const form = new FormData();
  for (const [name, value] of Object.entries(fields)) form.append(name, value);
  form.append("file", file);
  return form;
}
