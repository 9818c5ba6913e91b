/** The list of moves, each with its standing sentence. */
import { Link, useNavigate } from "react-router";

import { ImportMove } from "../parts/ImportMove";
import { Button } from "../parts/Button";
import { Head } from "../parts/Head";
import { Failed, Loading, Notice, Stale } from "../parts/Notice";
import { host } from "../lib/format";
import { useMoves } from "../lib/queries";

export function Moves() {
  const moves = useMoves();
  const navigate = useNavigate();
  document.title = "Palinode";
  const describe = () => void navigate("/describe");
  return (
    <>
      <Head
        end={
          <Button look="head" onClick={describe}>
            Describe a move
          </Button>
        }
      />
      <main>
        {moves.data ? <Stale error={moves.error} /> : null}
        {moves.error && !moves.data ? (
          <Failed error={moves.error} again={() => void moves.refetch()} />
        ) : !moves.data ? (
          <Loading what="your moves" />
        ) : !moves.data.length ? (
          <Notice title="No move yet.">
            <p>
              A move is one site that is being moved or restored. Describe it with a name and two addresses; then
              capture the source before anything is touched.
            </p>
            <Button look="strong" onClick={describe}>
              Describe a move
            </Button>
            <p>
              <ImportMove />
            </p>
          </Notice>
        ) : (
          <>
            <h1 className="px-6 pt-6 pb-4 text-[26px] leading-8">Moves</h1>
            <ul className="border-edge border-t">
              {moves.data.map((move) => (
                <li key={move.id} className="border-edge border-b">
                  <Link to={`/moves/${move.id}`} className="facing bg-leaf -outline-offset-2! hover:bg-paper">
                    <div className="left py-3">
                      <p className="font-serif text-[17px] leading-6 font-semibold">{move.name}</p>
                      <p className="text-soft truncate font-mono text-[13px]">
                        {host(move.source)}
                        {host(move.source) === host(move.destination) ? "" : ` → ${host(move.destination)}`}
                      </p>
                    </div>
                    <div className="mid text-soft px-2 text-[12px] leading-4 capitalize">{move.stage}</div>
                    <div className="right py-3">
                      <p className={`font-serif text-[17px] leading-6 ${move.blocks ? "text-madder" : ""}`}>{move.sentence}</p>
                      <p className="text-soft text-[13px] first-letter:uppercase">
                        {move.kind}
                        {move.capturing ? ". A capture is running" : ""}.
                      </p>
                    </div>
                  </Link>
                </li>
              ))}
            </ul>
            <p className="px-6 py-4">
              <ImportMove />
            </p>
          </>
        )}
      </main>
    </>
  );
}
