import type { NextConfig } from "next";
import { BODY_LIMITS } from "./src/api/limits.ts";

const config: NextConfig = {
  // `npm run dev` listens on 127.0.0.1: under its other name the page would load itself anew for ever.
  allowedDevOrigins: ["localhost", "127.0.0.1"],
  serverExternalPackages: ["better-sqlite3"],
  poweredByHeader: false,
  // It serves the machine that it runs on: packing a large take and unpacking it takes longer than handing it over.
  compress: false,
  devIndicators: false,
  // What is longer than this would be cut off in silence on its way past proxy.ts, so it is more than the largest that we take.
  experimental: { proxyClientMaxBodySize: Math.max(...Object.values(BODY_LIMITS)) + 1 },
  // Types are checked by `npm test`, over more than what is built here.
  typescript: { ignoreBuildErrors: true },
};

export default config;
