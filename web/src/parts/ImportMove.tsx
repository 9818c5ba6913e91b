/** Import a move that was exported as an archive, from here or elsewhere. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";

import { api, data, Refused } from "../api/client";
import { Button } from "./Button";
import { Dialog } from "./Dialog";
import { FileField, formOf } from "./FileField";

export function ImportMove() {
  const [open, setOpen] = useState(false);
  const [file, setFile] = useState<File | null>(null);
  const queries = useQueryClient();
  const navigate = useNavigate();
  const upload = useMutation({
    mutationFn: (given: File) =>
      data(
        api.POST("/api/archives/", {
          body: { file: "" },
          bodySerializer: () => formOf(given),
        }),
      ),
    onSuccess: async (made) => {
      await queries.invalidateQueries({ queryKey: ["moves"] });
      await navigate(`/moves/${made.id}/evidence`);
    },
  });
  const said = upload.error instanceof Refused ? (upload.error.fields.file ?? upload.error.message) : upload.error?.message;
  return (
    <>
      <button type="button" className="text-[14px] underline underline-offset-2" onClick={() => setOpen(true)}>
        Import a move …
      </button>
      <Dialog open={open} onClose={() => setOpen(false)} title="Import a move">
        <form
          className="space-y-4"
          onSubmit={(event) => {
            event.preventDefault();
            if (file) upload.mutate(file);
          }}
        >
          <p className="text-soft">
            An archive that was exported in Evidence, here or on another installation of the same version. It becomes a move of yours; passwords are
            not in it.
          </p>
          <FileField onChange={setFile} />
          {said ? (
            <p role="alert" className="text-madder font-semibold break-words">
              {said}
            </p>
          ) : null}
          <div className="flex gap-2">
            <Button type="submit" look="strong" disabled={upload.isPending}>
              {upload.isPending ? "Reading and checking it …" : "Import it"}
            </Button>
            <Button onClick={() => setOpen(false)}>Close</Button>
          </div>
        </form>
      </Dialog>
    </>
  );
}
