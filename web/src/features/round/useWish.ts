/** What is asked of the round, as it stands in the address: a reload and a link show the same. */
import { useSearchParams } from "react-router";
import { ORDERS, type RoundWish } from "./queries";

export function useWish() {
  const [params, setParams] = useSearchParams();
  const wish: RoundWish = {
    search: params.get("search") ?? "",
    site: params.get("site"),
    verdicts: params.getAll("state") as RoundWish["verdicts"],
    next: params.getAll("next") as RoundWish["next"],
    stages: params.getAll("stage") as RoundWish["stages"],
    order: ORDERS.find((order) => order === params.get("order")) ?? "name",
    page: Number(params.get("page") ?? 1),
    isArchived: params.get("archived") === "1",
    isMine: params.get("mine") === "1",
    plan: params.get("plan"),
  };
  const change = (name: string, values: string[]) => {
    setParams(
      (now) => {
        now.delete(name);
        if (name !== "page") now.delete("page");
        for (const value of values) now.append(name, value);
        return now;
      },
      { replace: true },
    );
  };
  return { wish, change };
}

export type Change = ReturnType<typeof useWish>["change"];

/** Nothing keeps any loop out of sight. */
export function isUnfiltered(wish: RoundWish): boolean {
  return (
    wish.search === "" &&
    wish.site === null &&
    wish.plan === null &&
    !wish.isMine &&
    wish.verdicts.length === 0 &&
    wish.next.length === 0 &&
    wish.stages.length === 0
  );
}
