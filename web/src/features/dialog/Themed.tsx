/** What Ant Design brings, in our colours; fetched apart from the page that shows it. */
import { ConfigProvider, Modal, type ModalProps, type RefSelectProps, Select, type SelectProps } from "antd";
import { useLayoutEffect, useRef, useSyncExternalStore } from "react";
import { isFieldFocused } from "../../app/keys";
import { themeNow } from "./theme";

function subscribe(changed: () => void): () => void {
  const watcher = new MutationObserver(changed);
  watcher.observe(document.documentElement, { attributeFilter: ["data-mode"] });
  return () => watcher.disconnect();
}

const modeNow = () => document.documentElement.dataset["mode"];

export function ThemedModal(props: ModalProps) {
  useSyncExternalStore(subscribe, modeNow);
  return (
    <ConfigProvider theme={themeNow()}>
      <Modal {...props} />
    </ConfigProvider>
  );
}

/** Put on the page when the list has arrived: by then somebody may be typing elsewhere, whose focus is not taken. */
export function ThemedSelect({ autoFocus = false, ...rest }: SelectProps<string | null>) {
  useSyncExternalStore(subscribe, modeNow);
  const field = useRef<RefSelectProps>(null);
  // Asked in the moment it is put there: while it is being drawn, which takes a while, a field may be clicked.
  useLayoutEffect(() => {
    if (autoFocus && !isFieldFocused()) field.current?.focus();
    // Once, on arrival.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  return (
    <ConfigProvider theme={themeNow()}>
      <Select {...rest} ref={field} />
    </ConfigProvider>
  );
}
