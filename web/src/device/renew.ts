/** A fresh token for writes, and whether the session is still the same person's. */
import { answered, api, keepCsrfToken } from "../api/client";
import { setDoor } from "../app/door";

/** True when the session is still this person's; otherwise the door is shut, or the server is away. */
export async function renewToken(person: string): Promise<boolean> {
  try {
    const session = await answered(api.GET("/api/v1/session/"));
    keepCsrfToken(session.csrf_token);
    if (session.user?.id === person) return true;
    setDoor(session.user === null ? "lapsed" : "another");
  } catch {
    // The server is away: the sender tries again by itself.
  }
  return false;
}
