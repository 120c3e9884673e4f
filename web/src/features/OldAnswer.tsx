/** An answer that is not of the figures as they stand: greyed, and labelled when it stays so for a moment. */
import type { ReactNode } from "react";
import { texts } from "../texts";

interface Props {
  isOld: boolean;
  isAway?: boolean;
  /** More of it is still to come. */
  isBusy?: boolean;
  children: ReactNode;
}

export function OldAnswer({ isOld, isAway = false, isBusy = false, children }: Props) {
  return (
    <div className={`answer${isOld ? " is-of-before" : ""}`} aria-busy={isBusy}>
      {isOld && <p className="of-before">{isAway ? texts.device.oldAway : texts.device.old}</p>}
      {children}
    </div>
  );
}
