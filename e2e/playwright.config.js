import { defineConfig } from "@playwright/test";
import { availableParallelism } from "node:os";

// Every test has a shop and servers of its own: one more at once than there are processors, as each waits now and then.
export default defineConfig({
  testDir: "tests",
  workers: availableParallelism() + 1,
  fullyParallel: true,
  timeout: 480_000,
  // Shared machines stall for seconds; what must be quick says so itself.
  expect: { timeout: 40_000 },
  // No second try: a walk that fails without a change is a fault, of the walk or of the program.
  retries: 0,
  reporter: [["list"]],
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: "/usr/bin/chromium-headless-shell",
      args: [
        "--headless",
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
      ],
    },
  },
});
