import type { Metadata } from "next";
import { headers } from "next/headers";
import type { ReactNode } from "react";
import "@fontsource-variable/atkinson-hyperlegible-mono";
import "@fontsource-variable/atkinson-hyperlegible-next";
import { Application } from "@ui/workspace/application";
import "./globals.css";

export const metadata: Metadata = { title: "Resonum", description: "The finishing desk for sound" };

export default async function Layout({ children }: { children: ReactNode }) {
  await headers(); // rendered for each request: the page's policy carries a nonce
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        <Application>{children}</Application>
      </body>
    </html>
  );
}
