/** The door over a page whose session has ended: the page stays, and the work goes on after signing in. */
import { useSyncExternalStore } from "react";
import { doorState, subscribeDoor } from "../../app/door";
import { currentPerson } from "../../app/person";
import { Dialog } from "../dialog/Dialog";
import { texts } from "../../texts";
import { SignInForm } from "./SignInForm";

const words = texts.device.door;

export function DoorOver({ username }: { username: string }) {
  const door = useSyncExternalStore(subscribeDoor, doorState);
  if (door === "none" || currentPerson() === null) return null;
  return (
    <Dialog open keyboard={false} footer={null} title={words[door]} maskClosable={false}>
      <p>{door === "lapsed" ? words.lapsedLead : words.anotherLead}</p>
      <SignInForm firstName={username} demoAccounts={[]} />
    </Dialog>
  );
}
