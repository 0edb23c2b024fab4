import "@fontsource/ibm-plex-sans/400.css";
import "@fontsource/ibm-plex-sans/600.css";
import "@fontsource/ibm-plex-sans-condensed/400.css";
import "@fontsource/ibm-plex-sans-condensed/600.css";
import { sentence } from "../messages/sentence";
import type { Metadata } from "next";
import type { ReactNode } from "react";
import { GlobalStyle } from "../ui/tokens/GlobalStyle";
import { StyledRegistry } from "./StyledRegistry";

export const metadata: Metadata = {
  title: "Marsh",
  description: sentence("shell/description"),
};

export default function RootLayout({ children }: { children: ReactNode }) {
  return (
    <html lang="en-GB">
      <body>
        <StyledRegistry>
          <GlobalStyle />
          {children}
        </StyledRegistry>
      </body>
    </html>
  );
}
