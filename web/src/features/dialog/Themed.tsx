/** What Ant Design brings, in our colours; fetched apart from the page that shows it. */
import { ConfigProvider, Modal, type ModalProps, type RefSelectProps, Select, type SelectProps } from "antd";
import { type Ref, useSyncExternalStore } from "react";
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

export function ThemedSelect(props: SelectProps<string | null> & { ref?: Ref<RefSelectProps> }) {
  useSyncExternalStore(subscribe, modeNow);
  return (
    <ConfigProvider theme={themeNow()}>
      <Select {...props} />
    </ConfigProvider>
  );
}
