/** A form whose choices come from the server: shown once they are there, since what is pressed before is lost or wrong. */
import type { ReactNode } from "react";
import { texts } from "../texts";

interface Asked {
  data: unknown;
  isError: boolean;
  error: Error | null;
  refetch: () => unknown;
}

interface Props {
  of: readonly Asked[];
  children: ReactNode;
}

export function Arrived({ of, children }: Props) {
  const missing = of.filter((asked) => asked.data === undefined);
  if (missing.length === 0) return children;
  const refused = missing.find((asked) => asked.isError);
  if (refused === undefined) return <p className="quiet">{texts.bench.loading}</p>;
  return (
    <p className="wrong" role="alert">
      {refused.error?.message}{" "}
      <button
        type="button"
        className="outlined"
        onClick={() => missing.forEach((asked) => void asked.refetch())}
      >
        {texts.tryAgain}
      </button>
    </p>
  );
}
