import type { NextConfig } from "next";

const config: NextConfig = {
  // Types are checked part by part (`npm run types`), with walls that one program over everything would not have.
  typescript: { ignoreBuildErrors: true },
  poweredByHeader: false,
  devIndicators: false,
  serverExternalPackages: ["pdfkit", "pg", "pino", "@tus/server", "@tus/file-store"],
  async headers() {
    return [
      {
        source: "/:path*",
        headers: [
          // Shared memory between the listening engine's threads needs isolation.
          { key: "Cross-Origin-Opener-Policy", value: "same-origin" },
          { key: "Cross-Origin-Embedder-Policy", value: "require-corp" },
          { key: "Cross-Origin-Resource-Policy", value: "same-origin" },
          { key: "X-Content-Type-Options", value: "nosniff" },
          { key: "Referrer-Policy", value: "no-referrer" },
        ],
      },
    ];
  },
};

export default config;
