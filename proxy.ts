import { type NextRequest, NextResponse } from "next/server";

const LOCAL_HOSTS = new Set(["127.0.0.1", "localhost", "[::1]"]);

/**
 * Stands before every request. Only names of this machine are answered, so that no foreign name can be pointed here, and
 * what changes something must come from our own pages. Pages get a content security policy with a nonce of their own.
 */
export function proxy(request: NextRequest): NextResponse {
  const host = request.headers.get("host") ?? "";
  if (!LOCAL_HOSTS.has(host.replace(/:\d+$/, ""))) {
    return refuse(
      "host.foreign",
      "This application answers on this machine only.",
      "Open it as http://localhost with its port.",
    );
  }
  const isChange = request.method !== "GET" && request.method !== "HEAD";
  if (isChange && request.headers.get("origin") !== `http://${host}`) {
    return refuse("origin.foreign", "Another page may not change anything here.", "Use the application's own page.");
  }
  const nonce = Buffer.from(crypto.randomUUID()).toString("base64");
  const policy = [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self'",
    "connect-src 'self'",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join("; ");
  const headers = new Headers(request.headers);
  headers.set("x-nonce", nonce);
  headers.set("content-security-policy", policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set("content-security-policy", policy);
  response.headers.set("x-content-type-options", "nosniff");
  response.headers.set("referrer-policy", "no-referrer");
  return response;
}

function refuse(code: string, message: string, remedy: string): NextResponse {
  return NextResponse.json({ ok: false, problem: { code, message, remedy } }, { status: 403 });
}

export const config = { matcher: ["/((?!_next/static).*)"] };
