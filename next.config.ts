import type { NextConfig } from "next";

const config: NextConfig = {
  serverExternalPackages: ["better-sqlite3"],
  poweredByHeader: false,
  devIndicators: false,
  // What is longer than this would be cut off in silence on its way past proxy.ts; the largest that we take is 64 MiB (server/http.ts).
  experimental: { proxyClientMaxBodySize: "65mb" },
  // Types are checked by `npm test`, over more than what is built here.
  typescript: { ignoreBuildErrors: true },
};

export default config;
