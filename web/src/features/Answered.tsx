/** What was asked of the server: under way, refused, of figures that stood here before, or the answer. */
import { Children, type ReactNode } from "react";
import { texts } from "../texts";
import { OldAnswer } from "./OldAnswer";

interface Props {
  of: { isPending: boolean; isPlaceholderData: boolean; isError: boolean; error: Error | null };
  /** While nothing is known yet. */
  computing?: string;
  /** Shown once there is something to show. */
  children: ReactNode;
}

export function Answered({ of, computing = texts.spread.computing, children }: Props) {
  return (
    <>
      {of.isPending && <p className="quiet">{computing}</p>}
      {of.isError && (
        <p className="wrong" role="alert">
          {of.error?.message}
        </p>
      )}
      {Children.toArray(children).length > 0 && (
        <OldAnswer isOld={of.isPlaceholderData || of.isError}>{children}</OldAnswer>
      )}
    </>
  );
}
