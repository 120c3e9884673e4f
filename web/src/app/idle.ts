/** How long nobody has touched this device: what a page asks by itself is no use of it. */
let touchedAt = Date.now();

for (const name of ["pointerdown", "keydown"] as const) {
  addEventListener(
    name,
    () => {
      touchedAt = Date.now();
    },
    { capture: true, passive: true },
  );
}

export function idleSeconds(): number {
  return Math.floor((Date.now() - touchedAt) / 1000);
}
