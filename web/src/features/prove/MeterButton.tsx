/**
 * Reads a value at the lamps by the meter that answers in this copy, into the field where it could be typed.
 *
 * Wants a key of what is read: what arrives after that has changed belongs nowhere.
 */
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
  });
  if (!meter.data?.is_there) return null;
  return (
    <>
      <button
        type="button"
        className="outlined"
        disabled={reading.isPending}
        // Said with the press, it is not called once this button is gone.
        onClick={() => reading.mutate(undefined, { onSuccess: (shown) => onValue(shown.value) })}
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
