/** The bench of a loop: finds the gang, then hands over. */
import { useEffect } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { texts } from "../../texts";
import { InZone } from "../when";
import { Bench, fetchFirst } from "./Bench";
import { useAddGang, useLoop } from "./queries";

export function BenchPage({ mayEdit }: { mayEdit: boolean }) {
  const { loopId = "", position = "1" } = useParams();
  const loop = useLoop(loopId);
  const addGang = useAddGang(loopId);
  const navigate = useNavigate();
  useEffect(fetchFirst, []);
  if (loop.isPending) return <p className="waiting">{texts.bench.loading}</p>;
  // A page that is there stays, whatever becomes of asking anew.
  const gang = loop.data?.gangs.find((entry) => entry.position === Number(position));
  if (loop.data === undefined || gang === undefined) {
    return (
      <p className="waiting" role="alert">
        {loop.error?.message ?? texts.failed}{" "}
        <button type="button" className="outlined" onClick={() => void loop.refetch()}>
          {texts.tryAgain}
        </button>{" "}
        <Link to="/">{texts.back}</Link>
      </p>
    );
  }
  return (
    <InZone zone={loop.data.zone}>
      <Bench
        key={gang.id}
        loop={loop.data}
        gang={gang}
        mayEdit={mayEdit}
        onAddGang={() =>
          !addGang.isPending &&
          addGang.mutate(crypto.randomUUID(), {
            onSuccess: (made) => navigate(`/loops/${loopId}/${made.position}`),
          })
        }
      />
    </InZone>
  );
}
