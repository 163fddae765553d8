import type { NextConfig } from "next";

const config: NextConfig = {
  serverExternalPackages: ["better-sqlite3"],
  poweredByHeader: false,
  devIndicators: false,
  // Types are checked by `npm test`, over more than what is built here.
  typescript: { ignoreBuildErrors: true },
};

export default config;
