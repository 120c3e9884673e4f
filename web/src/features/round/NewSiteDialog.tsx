/** A new site: name, supply, whose words. */
import type { Schemas } from "../../api/client";
import { useLeft } from "../../app/useLeft";
import { texts } from "../../texts";
import { SearchSelect } from "../dialog/Dialog";
import { FormDialog } from "../dialog/FormDialog";
import { TextLine } from "../dialog/TextLine";
import { OWN_ZONE, zoneOptions } from "../zones";
import { useMakeSite } from "./queries";

const SUPPLIES = [
  "230 V 50 Hz",
  "120 V 60 Hz",
  "240 V 50 Hz",
  "220 V 50 Hz",
  "127 V 60 Hz",
  "110 V 50 Hz",
  "100 V 50 Hz",
];

export function NewSiteDialog({ onClose }: { onClose: () => void }) {
  const { form, isLeft, change, forget } = useLeft("site", {
    name: "",
    place: "",
    // Chosen by whoever knows it: every figure of the site leans on it.
    supply: "",
    region: "eu" as Schemas["RegionEnum"],
    zone: OWN_ZONE,
  });
  const { name, place, supply, region, zone } = form;
  const close = () => {
    forget();
    onClose();
  };
  const make = useMakeSite();
  const submit = () => {
    const [volts, , hertz] = supply.split(" ");
    make.mutate(
      { name: name.trim(), place, region, v_rms: Number(volts), f_hz: Number(hertz), zone },
      { onSuccess: close },
    );
  };
  return (
    <FormDialog
      title={texts.make.siteTitle}
      action={texts.make.create}
      isReady={name.trim() !== "" && supply !== ""}
      isPending={make.isPending}
      error={make.error}
      isLeft={isLeft}
      onSubmit={submit}
      onClose={close}
    >
      <TextLine
        label={texts.make.siteName}
        value={name}
        maxLength={120}
        onChange={(next) => change({ name: next })}
      />
      <label>
        {texts.make.supply}
        <select value={supply} onChange={(event) => change({ supply: event.target.value })}>
          <option value="" disabled>
            {texts.make.chooseSupply}
          </option>
          {SUPPLIES.map((value) => (
            <option key={value}>{value}</option>
          ))}
        </select>
      </label>
      <TextLine
        label={texts.make.place}
        value={place}
        maxLength={200}
        onChange={(next) => change({ place: next })}
      />
      <label>
        {texts.make.words}
        <select
          value={region}
          onChange={(event) => change({ region: event.target.value as Schemas["RegionEnum"] })}
        >
          <option value="eu">{texts.make.regions.eu}</option>
          <option value="na">{texts.make.regions.na}</option>
        </select>
      </label>
      <label>
        {texts.make.zone}
        <SearchSelect
          label={texts.make.zone}
          value={zone}
          options={zoneOptions(zone)}
          onChange={(next) => change({ zone: next })}
        />
      </label>
    </FormDialog>
  );
}
