import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { App, fetchPage } from "./App";

const root = document.getElementById("root");
if (root) {
  fetchPage(location.pathname);
  createRoot(root).render(
    <StrictMode>
      <App />
    </StrictMode>,
  );
}
