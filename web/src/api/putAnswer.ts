/** What a write answered, put where the screen reads it. */
import type { QueryClient } from "@tanstack/react-query";

export function putAnswer(client: QueryClient, queryKey: readonly unknown[], answer: unknown): void {
  // A look that is under way may be older than this answer, and would take back what it tells.
  void client.cancelQueries({ queryKey, exact: true });
  client.setQueryData(queryKey, answer);
}
