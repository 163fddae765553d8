import type { Metadata } from "next";
import { cookies } from "next/headers";
import type { ReactNode } from "react";
import { Frame } from "../src/components/page/Frame.tsx";
import "./globals.css";

export const metadata: Metadata = {
  title: "Idle Marten",
  description: "A clean-up bench for recorded drum parts",
  icons: { icon: "/icon.svg" },
};

/** The theme is a cookie and not a script, so that the page is right at once and the content policy can be strict. */
export default async function Layout({ children }: { children: ReactNode }) {
  const theme = (await cookies()).get("theme")?.value === "night" ? "night" : "day";
  return (
    <html lang="en" data-theme={theme}>
      <body>
        <Frame theme={theme}>{children}</Frame>
      </body>
    </html>
  );
}
