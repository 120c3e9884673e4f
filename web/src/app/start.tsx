import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { App, fetchPage } from "./App";
import { keepPresses } from "./press";

const root = document.getElementById("root");
if (root) {
  keepPresses();
  fetchPage(location.pathname);
  createRoot(root).render(
    <StrictMode>
      <App />
    </StrictMode>,
  );
}
