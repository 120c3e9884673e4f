/** Rooms, what lies between them, hubs, access points and devices, as far as somebody noted them. */
import { Refusal } from "../../api/client";
import { say, texts } from "../../texts";
import { useDraft } from "../visits/useDraft";
import { type Draft, documentOf, draftOf, WALLS } from "./house";
import { type House, useKeepHouse } from "./queries";
import { Refused } from "./Refused";
import { type Column, type Row, Rows } from "./Rows";
import { type Clash, keyOf, putTogether } from "./together";

const words = texts.setup.form;
const BANDS = ["mesh_2g4", "wifi_2g4", "sub_ghz"] as const;
const KEEPS = ["nowhere", "control", "hub"] as const;

interface Props {
  house: House;
  siteName: string;
  onDone: () => void;
}

// A form that opens is read from its beginning.
const atTop = (form: HTMLFormElement | null) => form?.scrollIntoView();

const key = () => crypto.randomUUID().slice(0, 8);

export function HouseForm({ house, siteName, onDone }: Props) {
  const [begun, keep, settle] = useDraft<Draft, Clash>(`house ${house.site}`);
  const saving = useKeepHouse(house.site);
  const draft = begun?.draft ?? draftOf(house);
  const version = begun?.version ?? house.version;
  const base = begun ? begun.base : draft;
  const set = (part: Partial<Draft>) =>
    keep({ ...begun, draft: { ...draft, ...part }, version, ...(base && { base }) });
  const clashes = begun?.clashes;
  const error = saving.error;
  const errors = new Map(
    error instanceof Refusal ? error.errors.map((one) => [one.path, one.text] as const) : [],
  );
  const close = () => {
    keep(null);
    onDone();
  };
  const save = (over = version) =>
    saving.mutate(
      { version: over, document: documentOf(draft) },
      { onSuccess: (now) => settle(draft, now.version ?? over) && onDone() },
    );
  const both =
    base &&
    (() => {
      const theirs = draftOf(house);
      const put = putTogether(base, draft, theirs);
      keep({ ...put, version: house.version, base: theirs });
      saving.reset();
    });
  const none = ["", words.none] as const;
  const rooms = [none, ...draft.rooms.map((row) => [row["id"] ?? "", row["name"] ?? ""] as const)];
  const asked = [
    ["", words.unknown],
    ["yes", words.yes],
    ["no", words.no],
  ] as const;
  const sure = asked.slice(1);
  // Whoever says what a device controls is offered a name for it.
  const named = (row: Row, changed: string): Row => {
    const gang = house.gangs.find((one) => one.id === row["gang"]);
    return changed === "gang" && gang && (row["name"] ?? "").trim() === ""
      ? { ...row, name: gang.proposed }
      : row;
  };
  // Times of a leaflet count in place of those of its kind, which stand there until somebody notes them.
  const ofKind = (time: "window_s" | "join_s") => (row: Row) =>
    String(house.cards.find((card) => card.code === row["card"])?.[time] ?? "");
  const tables: {
    path: keyof Draft;
    title: string;
    columns: Column[];
    fresh: () => Row;
    filled?: (row: Row, key: string) => Row;
  }[] = [
    {
      path: "rooms",
      title: words.rooms,
      columns: [
        { key: "name", label: words.name, type: "text", isWide: true },
        { key: "floor", label: words.floor, type: "number" },
      ],
      fresh: () => ({ id: key(), name: "", floor: "" }),
    },
    {
      path: "between",
      title: words.between,
      columns: [
        { key: "a", label: words.from, type: "select", options: rooms },
        { key: "b", label: words.to, type: "select", options: rooms },
        { key: "d_m", label: words.distance, type: "number" },
        ...WALLS.map((wall) => ({
          key: `walls.${wall}`,
          label: words.walls[wall],
          type: "number" as const,
        })),
        { key: "floors", label: words.floors, type: "number" },
      ],
      fresh: () => ({ a: "", b: "", d_m: "", floors: "" }),
    },
    {
      path: "hubs",
      title: words.hubs,
      columns: [
        { key: "name", label: words.name, type: "text", isWide: true },
        { key: "room", label: words.room, type: "select", options: rooms },
        {
          key: "band",
          label: words.band,
          type: "select",
          options: BANDS.map((band) => [band, words.bands[band]] as const),
        },
        { key: "takes", label: words.takes, type: "number" },
        { key: "has", label: words.has, type: "number" },
        { key: "window_s", label: words.window, type: "number" },
        { key: "needs_internet", label: words.internet, type: "select", options: sure },
        {
          key: "listed",
          label: words.listed,
          type: "many",
          options: house.cards.map((card) => [card.code, card.text] as const),
        },
        { key: "left_over", label: words.leftOver, type: "text", isWide: true },
      ],
      fresh: () => ({
        id: key(),
        name: "",
        room: "",
        band: "mesh_2g4",
        window_s: "60",
        needs_internet: "no",
      }),
    },
    {
      path: "access_points",
      title: words.points,
      columns: [
        { key: "name", label: words.name, type: "text", isWide: true },
        { key: "room", label: words.room, type: "select", options: rooms },
        { key: "channel", label: words.channel, type: "number" },
        { key: "takes", label: words.takes, type: "number" },
        { key: "has", label: words.has, type: "number" },
      ],
      fresh: () => ({ id: key(), name: "", room: "", channel: "" }),
    },
    {
      path: "devices",
      title: words.devices,
      filled: named,
      columns: [
        { key: "name", label: words.name, type: "text", isWide: true },
        {
          key: "card",
          label: words.card,
          type: "select",
          isWide: true,
          options: house.cards.map((card) => [card.code, card.text] as const),
        },
        { key: "room", label: words.room, type: "select", options: rooms },
        {
          key: "hub",
          label: texts.setup.hub,
          type: "select",
          options: [none, ...draft.hubs.map((row) => [row["id"] ?? "", row["name"] ?? ""] as const)],
        },
        {
          key: "gang",
          label: words.gang,
          type: "select",
          isWide: true,
          options: [
            none,
            ...house.gangs.map(
              (gang) => [gang.id, [gang.loop_name, gang.name || gang.position].join(" · ")] as const,
            ),
          ],
        },
        {
          key: "dimmer",
          label: words.dimmer,
          type: "select",
          isWide: true,
          options: [none, ...draft.devices.map((row) => [row["id"] ?? "", row["name"] ?? ""] as const)],
        },
        { key: "metal_box", label: words.metalBox, type: "select", options: asked },
        { key: "metal_plate", label: words.metalPlate, type: "select", options: asked },
        { key: "behind_switch", label: words.behind, type: "select", options: sure },
        { key: "window_s", label: words.ownWindow, type: "number", otherwise: ofKind("window_s") },
        { key: "join_s", label: words.ownJoin, type: "number", otherwise: ofKind("join_s") },
        {
          key: "keeps",
          label: words.keeps,
          type: "select",
          options: KEEPS.map((where) => [where, words.keepsIn[where]] as const),
        },
      ],
      fresh: () => ({
        id: key(),
        name: "",
        card: house.cards[0]?.code ?? "",
        room: "",
        hub: draft.hubs[0]?.["id"] ?? "",
        behind_switch: "no",
        keeps: "nowhere",
      }),
    },
  ];
  const told = (clash: Clash): string => {
    if (clash.table === "lat" || clash.table === "lon" || clash.table === "neighbours")
      return words[clash.table];
    const table = tables.find((one) => one.path === clash.table);
    const at = draft[clash.table].findIndex((row) => keyOf(row) === clash.row);
    const row = say(words.row, { what: table?.title ?? "", number: at + 1 });
    const name = draft[clash.table][at]?.["name"];
    const column = table?.columns.find((one) => one.key === clash.field)?.label;
    return [row, name, column].filter(Boolean).join(" · ");
  };
  const field = (name: "lat" | "lon") => (
    <label className="field">
      {words[name]}
      <input
        value={draft[name]}
        maxLength={60}
        inputMode="decimal"
        aria-invalid={errors.has(name)}
        onChange={(event) => set({ [name]: event.target.value })}
      />
      {errors.get(name) && <small className="wrong">{errors.get(name)}</small>}
    </label>
  );
  return (
    <form
      ref={atTop}
      className="house-form"
      aria-label={say(words.title, { site: siteName })}
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        save();
      }}
    >
      <h2>{say(words.title, { site: siteName })}</h2>
      <p className="quiet">{words.lead}</p>
      <section className="rows" aria-label={words.place}>
        <fieldset className="row-set">
          <legend>{words.place}</legend>
          {field("lat")}
          {field("lon")}
        </fieldset>
      </section>
      {tables.map(({ path, ...table }) => (
        <Rows
          key={path}
          path={path}
          {...table}
          rows={draft[path] as Row[]}
          errors={errors}
          onRows={(rows) => set({ [path]: rows })}
        />
      ))}
      <label className="field">
        {words.neighbours}
        <input
          value={draft.neighbours}
          maxLength={200}
          onChange={(event) => set({ neighbours: event.target.value })}
        />
        {[...errors]
          .filter(([path]) => path.startsWith("neighbours"))
          .map(([path, text]) => (
            <small key={path} className="wrong">
              {text}
            </small>
          ))}
      </label>
      {error && (
        <Refused
          error={error}
          words={words}
          onTheirs={() => {
            keep(null);
            saving.reset();
          }}
          onMine={() => save(house.version)}
          onBoth={both}
        />
      )}
      {clashes && !error && (
        <div className="notice" role="status">
          <div>
            <p>{words.together}</p>
            {clashes.length > 0 && <p>{words.clashes}</p>}
            <ul>
              {clashes.map((clash) => (
                <li key={`${clash.table} ${clash.row} ${clash.field}`}>{told(clash)}</li>
              ))}
            </ul>
          </div>
        </div>
      )}
      <p className="form-buttons">
        <button type="submit" className="solid" disabled={saving.isPending}>
          {words.save}
        </button>
        <button type="button" className="plain" onClick={close}>
          {words.cancel}
        </button>
      </p>
      <p className="quiet">{words.kept}</p>
    </form>
  );
}
