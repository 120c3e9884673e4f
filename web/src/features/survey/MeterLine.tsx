/** Which meter answers, and the stand-in's fault switch. */
import type { Schemas } from "../../api/client";
import { texts, wordOf } from "../../texts";
import { useMeter, useMeterFault } from "./queries";

const words = texts.survey.meter;

export function MeterLine({ mayEdit }: { mayEdit: boolean }) {
  const meter = useMeter();
  const turn = useMeterFault();
  if (!meter.data?.is_there) return null;
  return (
    <p className="meter-line">
      <span>
        {meter.data.is_stand_in ? words.standIn : words.real}:{" "}
        <span className="quiet">{meter.data.identity}</span>
      </span>
      {meter.data.is_stand_in && (
        <label>
          {words.fault}{" "}
          <select
            value={turn.waiting.fault ?? meter.data.fault}
            disabled={!mayEdit}
            onChange={(event) => turn.change({ fault: event.target.value as Schemas["MeterFaultEnum"] }, 0)}
          >
            {meter.data.faults.map((fault) => (
              <option key={fault} value={fault}>
                {wordOf(words.faults, fault) ?? fault}
              </option>
            ))}
          </select>
        </label>
      )}
    </p>
  );
}
