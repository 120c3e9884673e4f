/** An answer that is not of the figures as they stand: greyed, and labelled when it stays so for a moment. */
import type { ReactNode } from "react";
import { texts } from "../texts";

interface Props {
  isOld: boolean;
  isAway?: boolean;
  children: ReactNode;
}

export function OldAnswer({ isOld, isAway = false, children }: Props) {
  return (
    <div className={`answer${isOld ? " is-of-before" : ""}`}>
      {isOld && <p className="of-before">{isAway ? texts.device.oldAway : texts.device.old}</p>}
      {children}
    </div>
  );
}
