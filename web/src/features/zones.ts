/** Time zones, as the device knows them. */

/** The zone of this device. */
export const OWN_ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** That of a site where nobody chose one, on paper too. */
export const NO_ZONE = "UTC";

/** Every zone to choose from; one that is on record stays choosable. */
export function zoneOptions(recorded: string): { value: string; label: string }[] {
  const known = Intl.supportedValuesOf("timeZone");
  return [...new Set([...known, "UTC", ...(recorded ? [recorded] : [])])]
    .sort()
    .map((value) => ({ value, label: value.replaceAll("_", " ") }));
}
