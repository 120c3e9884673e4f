/** What touches what, entered point by point. */
import { useState } from "react";
import { say, texts, wordOf } from "../../texts";
import { PickMenu } from "../PickMenu";
import { type Drawn, newDevice, pointsOf, without } from "./document";

const words = texts.ways.drawing;
const KINDS = Object.keys(texts.ways.kinds);

interface Props {
  drawn: Drawn;
  onChange: (drawn: Drawn) => void;
}

export function DrawingEditor({ drawn, onChange }: Props) {
  const all = pointsOf(drawn);
  const placed = new Set([...drawn.joints.flat(), ...drawn.capped]);
  const free = all.filter((point) => !placed.has(point));
  const ends = free.filter((point) => point.includes("@"));
  const setJoint = (at: number, joint: string[]) =>
    onChange({
      ...drawn,
      joints: drawn.joints.map((old, k) => (k === at ? joint : old)).filter((one) => one.length > 0),
    });
  return (
    <>
      <h3>{words.devices}</h3>
      <div className="drawing-joint">
        {drawn.devices.map((device) => (
          <button
            key={device.id}
            type="button"
            className="outlined"
            aria-label={say(words.remove, { what: device.id })}
            onClick={() =>
              onChange({
                ...without(drawn, (point) => point.startsWith(`${device.id}.`)),
                devices: drawn.devices.filter((one) => one !== device),
              })
            }
          >
            {device.id} · {wordOf(texts.ways.kinds, device.kind) ?? device.kind} ×
          </button>
        ))}
        <Add
          label={words.addDevice}
          options={KINDS.filter((kind) => kind !== "companion")}
          textOf={(kind) => wordOf(texts.ways.kinds, kind) ?? kind}
          onAdd={(kind) =>
            onChange({ ...drawn, devices: [...drawn.devices, newDevice(kind, drawn.devices)] })
          }
        />
      </div>
      <h3>{words.cores}</h3>
      <div className="drawing-joint">
        {drawn.cores.map((core) => (
          <button
            key={core.id}
            type="button"
            className="outlined"
            aria-label={say(words.remove, { what: core.id })}
            onClick={() =>
              onChange({
                ...without(drawn, (point) => point.startsWith(`${core.id}@`)),
                cores: drawn.cores.filter((one) => one !== core),
              })
            }
          >
            {core.id}: {core.ends.join(" – ")} ×
          </button>
        ))}
      </div>
      <NewCore onAdd={(core) => onChange({ ...drawn, cores: [...drawn.cores, core] })} known={drawn} />
      <h3>{words.joints}</h3>
      <div className="drawing-joints">
        {drawn.joints.map((joint, at) => (
          <div key={joint.join(" ")} className="drawing-joint">
            <b>{say(words.joint, { number: at + 1 })}</b>
            {joint.map((point) => (
              <button
                key={point}
                type="button"
                className="outlined"
                aria-label={say(words.remove, { what: point })}
                onClick={() =>
                  setJoint(
                    at,
                    joint.filter((one) => one !== point),
                  )
                }
              >
                {point} ×
              </button>
            ))}
            <Add label={words.addPoint} options={free} onAdd={(point) => setJoint(at, [...joint, point])} />
          </div>
        ))}
        <div className="drawing-joint">
          <b>{words.newJoint}</b>
          <Add
            label={words.newJoint}
            options={free}
            onAdd={(point) => onChange({ ...drawn, joints: [...drawn.joints, [point]] })}
          />
        </div>
        <div className="drawing-joint">
          <b>{words.cappedEnds}</b>
          {drawn.capped.map((point) => (
            <button
              key={point}
              type="button"
              className="outlined"
              aria-label={say(words.remove, { what: point })}
              onClick={() => onChange({ ...drawn, capped: drawn.capped.filter((one) => one !== point) })}
            >
              {point} ×
            </button>
          ))}
          <Add
            label={words.addCap}
            options={ends}
            onAdd={(point) => onChange({ ...drawn, capped: [...drawn.capped, point] })}
          />
        </div>
      </div>
    </>
  );
}

interface AddProps {
  label: string;
  options: string[];
  textOf?: (option: string) => string;
  onAdd: (option: string) => void;
}

function Add({ label, options, textOf = (option) => option, onAdd }: AddProps) {
  return (
    <PickMenu label={label} first={`${label} …`} onPick={onAdd}>
      {options.map((option) => (
        <option key={option} value={option}>
          {textOf(option)}
        </option>
      ))}
    </PickMenu>
  );
}

function NewCore({ known, onAdd }: { known: Drawn; onAdd: (core: Drawn["cores"][number]) => void }) {
  const [id, setId] = useState("");
  const [from, setFrom] = useState("");
  const [to, setTo] = useState("");
  const isReady =
    id.trim() !== "" &&
    from.trim() !== "" &&
    to.trim() !== "" &&
    from.trim() !== to.trim() &&
    !known.cores.some((core) => core.id === id.trim());
  return (
    <form
      className="drawing-joint"
      onSubmit={(event) => {
        event.preventDefault();
        if (!isReady) return;
        onAdd({ id: id.trim(), ends: [from.trim(), to.trim()] });
        setId("");
      }}
    >
      <label className="field">
        {words.coreName}
        <input value={id} maxLength={30} onChange={(event) => setId(event.target.value)} />
      </label>
      <label className="field">
        {words.from}
        <input value={from} maxLength={30} onChange={(event) => setFrom(event.target.value)} />
      </label>
      <label className="field">
        {words.to}
        <input value={to} maxLength={30} onChange={(event) => setTo(event.target.value)} />
      </label>
      <button type="submit" className="outlined" disabled={!isReady}>
        {words.addCore}
      </button>
    </form>
  );
}
