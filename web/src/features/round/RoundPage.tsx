/** The round: every loop with its state and next step. */
import { Button, Input, type InputRef, Pagination, Select } from "antd";
import { useEffect, useRef, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { isShortcut } from "../../app/keys";
import type { Schemas } from "../../api/client";
import { useTitle } from "../../app/useTitle";
import { say, texts } from "../../texts";
import { addressOf, placeOf } from "../bench/steps";
import type { Verdict } from "../VerdictMark";
import { WorksMark } from "../WorksMark";
import { Outdated } from "../outdated/Outdated";
import { OffLine } from "../isolation/OffLine";
import { NewLoopDialog } from "./NewLoopDialog";
import { NewSiteDialog } from "./NewSiteDialog";
import { PAGE_SIZE, useLoops, useSites } from "./queries";

const VERDICTS = Object.keys(texts.verdicts) as Verdict[];
type NextStep = Schemas["NextStepEnum"];
const NEXT_STEPS = Object.keys(texts.list.nextSteps) as NextStep[];
const LOAD_MARKS = { met: "✓", not_met: "✗", unknown: "?" } as const;
// Typing pauses longer than this are a wish to see the answer.
const PAUSE_MS = 200;

export function RoundPage({ mayEdit }: { mayEdit: boolean }) {
  const [params, setParams] = useSearchParams();
  const wish = {
    search: params.get("search") ?? "",
    site: params.get("site"),
    verdicts: params.getAll("state") as Verdict[],
    next: params.getAll("next") as NextStep[],
    page: Number(params.get("page") ?? 1),
  };
  useTitle(texts.round);
  const [typed, setTyped] = useState(wish.search);
  const [dialog, setDialog] = useState<"none" | "loop" | "site">("none");
  const field = useRef<InputRef>(null);
  const loops = useLoops(wish);
  const sites = useSites();

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
  useEffect(() => {
    if (typed === wish.search) return;
    const timer = setTimeout(() => change("search", typed ? [typed] : []), PAUSE_MS);
    return () => clearTimeout(timer);
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === "/" && isShortcut(event)) {
        event.preventDefault();
        field.current?.focus();
      }
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, []);

  const rows = loops.data?.results ?? [];
  const total = loops.data?.count ?? 0;
  const unfiltered =
    wish.search === "" && wish.site === null && wish.verdicts.length === 0 && wish.next.length === 0;
  return (
    <div className="round">
      <div className="round-tools">
        <h1>{texts.round}</h1>
        <Input
          ref={field}
          className="round-search"
          allowClear
          aria-label={texts.list.search}
          placeholder={`${texts.list.search}: ${texts.list.searchHint}`}
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <Select
          aria-label={texts.list.site}
          className="round-site"
          value={wish.site ?? ""}
          onChange={(value: string) => change("site", value ? [value] : [])}
          options={[
            { value: "", label: texts.list.allSites },
            ...(sites.data?.results ?? []).map((site) => ({ value: site.id, label: site.name })),
          ]}
        />
        <Select
          aria-label={texts.list.state}
          className="round-state"
          mode="multiple"
          maxTagCount="responsive"
          placeholder={texts.list.allStates}
          value={wish.verdicts}
          onChange={(values: string[]) => change("state", values)}
          options={VERDICTS.map((value) => ({ value, label: texts.verdicts[value] }))}
        />
        <Select
          aria-label={texts.list.next}
          className="round-state"
          mode="multiple"
          maxTagCount="responsive"
          placeholder={texts.list.everyNext}
          value={wish.next}
          onChange={(values: string[]) => change("next", values)}
          options={NEXT_STEPS.map((value) => ({ value, label: texts.list.nextSteps[value] }))}
        />
        {wish.site && (
          <Link className="outlined" to={`/sites/${wish.site}/schedule`}>
            {texts.survey.schedule.open}
          </Link>
        )}
        {mayEdit && (
          <>
            <Button onClick={() => setDialog("site")}>{texts.list.newSite}</Button>
            <Button type="primary" onClick={() => setDialog("loop")}>
              {texts.list.newLoop}
            </Button>
          </>
        )}
      </div>
      <Outdated mayEdit={mayEdit} />
      {loops.isError && (
        <p className="wrong" role="alert">
          {loops.error.message}
        </p>
      )}
      <table className="rows" aria-busy={loops.isFetching}>
        <thead>
          <tr>
            <th scope="col">{texts.list.loop}</th>
            <th scope="col">{texts.list.verdict}</th>
            <th scope="col">{texts.list.load}</th>
            <th scope="col">{texts.list.next}</th>
            <th scope="col">{texts.list.site}</th>
            <th scope="col">{texts.list.breaker}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.id}>
              <td>
                <Link to={`/loops/${row.id}`}>{row.name}</Link>
                <small>{row.note || say(texts.list.gangs, { count: row.gang_count })}</small>
                <OffLine loop={row.id} />
              </td>
              <td>
                <WorksMark works={row.works ?? "unknown"} />
                {row.outdated && (
                  <small className="out-of-date">
                    <b>{texts.outdated.mark}:</b> {row.outdated}
                  </small>
                )}
                {row.why && <small>{row.why}</small>}
              </td>
              <td className="round-load">
                {row.load && (
                  <>
                    <span className={`load-${row.load.state}`}>
                      <b aria-label={texts.list.loadStates[row.load.state]}>{LOAD_MARKS[row.load.state]}</b>{" "}
                      {row.load.text}
                    </span>
                    <small>{say(texts.list.whenOn, { verdict: row.load.lit_text })}</small>
                  </>
                )}
              </td>
              <td>
                {row.next_step && (
                  <Link to={addressOf(row.id, row.next_position, placeOf(row.next_step))}>
                    {texts.list.nextSteps[row.next_step]}
                  </Link>
                )}
              </td>
              <td>{row.site_name}</td>
              <td className="figure">{row.breaker || "?"}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {loops.isSuccess && rows.length === 0 && (
        <p className="empty">{unfiltered ? texts.list.empty : texts.list.none}</p>
      )}
      <div className="round-foot">
        <span>{loops.isSuccess && say(texts.list.count, { count: total })}</span>
        {total > PAGE_SIZE && (
          <Pagination
            current={wish.page}
            pageSize={PAGE_SIZE}
            total={total}
            showSizeChanger={false}
            onChange={(page) => change("page", [String(page)])}
          />
        )}
      </div>
      {dialog === "loop" && <NewLoopDialog site={wish.site} onClose={() => setDialog("none")} />}
      {dialog === "site" && <NewSiteDialog onClose={() => setDialog("none")} />}
    </div>
  );
}
