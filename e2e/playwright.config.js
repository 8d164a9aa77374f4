import { defineConfig } from "@playwright/test";

// One worker: every test starts servers of its own, and timing matters where things are killed.
export default defineConfig({
  testDir: "tests",
  workers: 1,
  fullyParallel: true,
  timeout: 180_000,
  // Shared machines stall for seconds; what must be quick says so itself.
  expect: { timeout: 10_000 },
  // A machine that stalls may cost one try; the report names such a test as flaky, and one that fails twice fails.
  retries: 1,
  reporter: [["list"]],
  use: {
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: "/usr/bin/chromium",
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
