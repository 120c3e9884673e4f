/** A new site: name, supply, whose words. */
import { Input, Select } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { texts } from "../../texts";
import { FormDialog } from "../FormDialog";
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
  const [name, setName] = useState("");
  const [place, setPlace] = useState("");
  const [supply, setSupply] = useState(SUPPLIES[0] ?? "");
  const [region, setRegion] = useState<Schemas["RegionEnum"]>("eu");
  const make = useMakeSite();
  const submit = () => {
    const [volts, , hertz] = supply.split(" ");
    make.mutate(
      { name: name.trim(), place, region, v_rms: Number(volts), f_hz: Number(hertz) },
      { onSuccess: onClose },
    );
  };
  return (
    <FormDialog
      title={texts.make.siteTitle}
      action={texts.make.create}
      isReady={name.trim() !== ""}
      isPending={make.isPending}
      error={make.error}
      onSubmit={submit}
      onClose={onClose}
    >
      <label>
        {texts.make.siteName}
        <Input value={name} maxLength={120} autoFocus onChange={(event) => setName(event.target.value)} />
      </label>
      <label>
        {texts.make.place}
        <Input value={place} maxLength={200} onChange={(event) => setPlace(event.target.value)} />
      </label>
      <label>
        {texts.make.supply}
        <Select
          aria-label={texts.make.supply}
          value={supply}
          onChange={setSupply}
          options={SUPPLIES.map((value) => ({ value, label: value }))}
        />
      </label>
      <label>
        {texts.make.words}
        <Select
          aria-label={texts.make.words}
          value={region}
          onChange={setRegion}
          options={[
            { value: "eu", label: texts.make.regions.eu },
            { value: "na", label: texts.make.regions.na },
          ]}
        />
      </label>
    </FormDialog>
  );
}
