import { sentence } from "../messages/sentence";
import type { MetadataRoute } from "next";
import { tokens } from "../ui/tokens/tokens";

/** What the system shows of Marsh where it is installed. */
export default function manifest(): MetadataRoute.Manifest {
  return {
    id: "/",
    name: "Marsh",
    short_name: "Marsh",
    description: sentence("shell/description"),
    start_url: "/",
    scope: "/",
    display: "standalone",
    background_color: tokens.panel,
    theme_color: tokens.panel,
    icons: [
      { src: "/icons/marsh-192.png", sizes: "192x192", type: "image/png" },
      { src: "/icons/marsh-512.png", sizes: "512x512", type: "image/png" },
      { src: "/icons/marsh-512.png", sizes: "512x512", type: "image/png", purpose: "maskable" },
    ],
  };
}
