// A renderer's page: it shows what the server says is on air.
import { showRenderer } from "./renderer.mjs";

showRenderer(document.getElementById("layers"), decodeURIComponent(location.pathname.split("/")[2] ?? "main"));
