/** Days of work at a site: planned, changed by hand with what that costs, taken along, handed out. */
import { useEffect } from "react";
import { Link, useSearchParams } from "react-router";
import { useTitle } from "../../app/useTitle";
import { say, texts } from "../../texts";
import { useSites } from "../round/queries";
import { Tabs } from "../Tabs";
import { Along } from "./Along";
import { Days } from "./Days";
import { PlanForm } from "./PlanForm";
import { usePlan, usePlans } from "./queries";
import { TaskMinutes } from "./TaskMinutes";
import "./visits.css";

const words = texts.visits;
const LOOKS = ["days", "along", "ask", "minutes"] as const;
type Look = (typeof LOOKS)[number];

export function VisitsPage({ mayEdit, maySetMinutes }: { mayEdit: boolean; maySetMinutes: boolean }) {
  const [params, setParams] = useSearchParams();
  const sites = useSites();
  const site = params.get("site") ?? sites.data?.results[0]?.id ?? null;
  const plans = usePlans(site);
  const asked = params.get("plan");
  const isNew = asked === "new";
  const chosen = isNew ? null : (asked ?? plans.data?.[0]?.id ?? null);
  const plan = usePlan(chosen);
  const look = LOOKS.find((name) => name === params.get("look")) ?? "days";
  const set = (changes: Record<string, string | null>) =>
    setParams(
      (now) => {
        const next = new URLSearchParams(now);
        for (const [name, value] of Object.entries(changes)) {
          if (value === null) next.delete(name);
          else next.set(name, value);
        }
        return next;
      },
      { replace: true },
    );
  useTitle(words.title, ...(plan.data ? [plan.data.name] : []));
  useEffect(() => {
    if (isNew && look !== "ask") set({ look: "ask" });
  });
  return (
    <div className="round visits">
      <div className="round-tools">
        <h1>{words.title}</h1>
        <select
          aria-label={texts.list.site}
          value={site ?? ""}
          onChange={(event) => set({ site: event.target.value, plan: null, look: null })}
        >
          {sites.data?.results.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </select>
        {(plans.data?.length ?? 0) > 0 && (
          <select
            aria-label={words.plan}
            value={isNew ? "new" : (chosen ?? "")}
            onChange={(event) => set({ plan: event.target.value, look: null })}
          >
            {plans.data?.map((one) => (
              <option key={one.id} value={one.id}>
                {one.first_day} · {one.name}
              </option>
            ))}
            {isNew && <option value="new">{words.newPlan}</option>}
          </select>
        )}
        {mayEdit && site !== null && !plans.isPending && (
          <button type="button" className="outlined" onClick={() => set({ plan: "new", look: "ask" })}>
            {words.newPlan}
          </button>
        )}
        {plan.data && !isNew && (
          <>
            <a
              className="outlined"
              href={`/api/v1/plans/${plan.data.id}/day.pdf`}
              target="_blank"
              rel="noreferrer"
            >
              {words.daySheet}
            </a>
            <a
              className="outlined"
              href={`/api/v1/plans/${plan.data.id}/materials.pdf`}
              target="_blank"
              rel="noreferrer"
            >
              {words.materialsSheet}
            </a>
            <Link className="outlined" to={`/?site=${plan.data.site}&plan=${plan.data.id}`}>
              {words.inOrder}
            </Link>
            <a className="outlined" href={`/api/v1/plans/${plan.data.id}/visits.ics`}>
              {words.calendar}
            </a>
          </>
        )}
      </div>
      {(plans.isError || plan.isError) && (
        <p className="wrong" role="alert">
          {(plans.error ?? plan.error)?.message}
        </p>
      )}
      {isNew && site !== null && (
        <PlanForm
          key="new"
          site={site}
          plan={null}
          mayEdit={mayEdit}
          onSaved={(id) => set({ plan: id, look: "days" })}
        />
      )}
      {!isNew && chosen === null && plans.data?.length === 0 && (
        <div className="empty">
          <p>{words.none}</p>
          {mayEdit && (
            <button type="button" className="solid" onClick={() => set({ plan: "new", look: "ask" })}>
              {words.newPlan}
            </button>
          )}
        </div>
      )}
      {!isNew && plan.data && (
        <Tabs<Look>
          id="visits"
          label={words.title}
          names={LOOKS}
          words={{
            days: words.days,
            along: words.along,
            ask: say(words.ask, { count: plan.data.jobs.length }),
            minutes: words.taskMinutes,
          }}
          chosen={look}
          onChoose={(name) => set({ look: name })}
        >
          {look === "days" && <Days key={plan.data.id} plan={plan.data} mayEdit={mayEdit} />}
          {look === "minutes" && <TaskMinutes maySet={maySetMinutes} />}
          {look === "along" && <Along plan={plan.data} mayEdit={mayEdit} />}
          {look === "ask" && (
            <PlanForm
              key={plan.data.id}
              site={plan.data.site}
              plan={plan.data}
              mayEdit={mayEdit}
              onSaved={() => set({ look: "days" })}
            />
          )}
        </Tabs>
      )}
    </div>
  );
}
