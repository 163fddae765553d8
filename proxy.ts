import { createHash, timingSafeEqual } from "node:crypto";
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
  if (!isReadable(request.nextUrl.pathname)) {
    return refuse("address.broken", "This address cannot be read.", "Go back to the Shelf.", 400);
  }
  const isChange = request.method !== "GET" && request.method !== "HEAD";
  if (isChange && request.headers.get("origin") !== `http://${host}`) {
    return refuse("origin.foreign", "Another page may not change anything here.", "Use the application's own page.");
  }
  const token = process.env.MARTEN_TOKEN;
  if (token) {
    const { pathname, searchParams } = request.nextUrl;
    if (isSame(searchParams.get("token"), token)) return letIn(request, token);
    if (!isSame(request.cookies.get(TOKEN_COOKIE)?.value ?? null, token)) {
      if (pathname.startsWith("/api/")) {
        return refuse(
          "token.missing",
          "This application asks for its token.",
          "Open the address that it printed.",
          401,
        );
      }
      return new NextResponse("Open the address with the token that Idle Marten printed when it was started.\n", {
        status: 401,
        headers: { "content-type": "text/plain; charset=utf-8", "cache-control": "no-store" },
      });
    }
  }
  const nonce = Buffer.from(crypto.randomUUID()).toString("base64");
  const policy = [
    "default-src 'self'",
    // Served from its sources, the page makes code of text to tell where an error comes from.
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'${process.env.NODE_ENV === "development" ? " 'unsafe-eval'" : ""}`,
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
  response.headers.set("cross-origin-resource-policy", "same-origin");
  return response;
}

function refuse(code: string, message: string, remedy: string, status = 403): NextResponse {
  const headers = { "cache-control": "no-store", "cross-origin-resource-policy": "same-origin" };
  return NextResponse.json({ ok: false, problem: { code, message, remedy } }, { status, headers });
}

/** A broken escape would be a fault further on. */
function isReadable(path: string): boolean {
  try {
    return decodeURIComponent(path) !== "";
  } catch (error) {
    if (!(error instanceof URIError)) throw error;
    return false;
  }
}

const TOKEN_COOKIE = "marten-token";

/** Compared without telling by the time it takes how much of it is right. */
function isSame(given: string | null, token: string): boolean {
  const digest = (text: string) => createHash("sha256").update(text).digest();
  return given !== null && timingSafeEqual(digest(given), digest(token));
}

/** The address with the token is opened once; from then on the browser shows its cookie, and the token is in no address. */
function letIn(request: NextRequest, token: string): NextResponse {
  const address = request.nextUrl.clone();
  address.searchParams.delete("token");
  // Where the browser is, and not where this server thinks it is.
  const here = `http://${request.headers.get("host")}${address.pathname}${address.search}`;
  const response = NextResponse.redirect(here, 307);
  response.cookies.set(TOKEN_COOKIE, token, { httpOnly: true, sameSite: "strict", path: "/", maxAge: 31_536_000 });
  return response;
}

export const config = { matcher: ["/((?!_next/static).*)"] };
