import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import "@fontsource-variable/source-sans-3";
// First of all sheets of style: it says in which order the layers of the others count.
import "./ui/theme.css";
import "./ui/controls.css";
import { App } from "./shell/App";
import { keepOverReloads } from "./state/unsaved";
import "./shell/shell.css";
import "./decks/decks.css";
import "./decks/odds.css";
import "./playtest/playtest.css";
import "./balance/balance.css";
import "./shell/damaged.css";
import "./cards/cards.css";
import "./files/import.css";
import "./cards/grid.css";
import "./query/query.css";
import "./ui/dialogs.css";
import "./cards/wall.css";
import "./faces/faces.css";
import "./faces/inspector.css";
import "./rules/rules.css";
import "./history/history.css";
import "./files/files.css";
import "./output/output.css";
import "./ui/windows.css";

keepOverReloads();
const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <BrowserRouter>
        <App />
      </BrowserRouter>
    </StrictMode>,
  );
