/** Reads a value at the lamps by the meter that answers in this copy, into the field where it could be typed. */
import { useMutation } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../../api/client";
import { texts } from "../../texts";
import { useMeter } from "../survey/queries";

const words = texts.prove;
export type LampRead = Schemas["ReadEnum"];

interface Props {
  gang: string;
  read: LampRead;
  onValue: (value: number) => void;
}

export function MeterButton({ gang, read, onValue }: Props) {
  const meter = useMeter();
  const reading = useMutation({
    mutationFn: () =>
      answered(api.POST("/api/v1/gangs/{id}/meter/", { params: { path: { id: gang } }, body: { read } })),
    onSuccess: (shown) => onValue(shown.value),
  });
  if (!meter.data?.is_there) return null;
  return (
    <>
      <button
        type="button"
        className="outlined"
        disabled={reading.isPending}
        onClick={() => reading.mutate()}
      >
        {meter.data.is_stand_in ? words.bySimulated : words.byMeter}
      </button>
      {reading.isError && (
        <p className="wrong" role="alert">
          {reading.error.message}
        </p>
      )}
    </>
  );
}
