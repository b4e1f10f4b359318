/** How each kind of tablet comes to trust a certificate: what is pressed, from memory; words differ by version. */

export interface Step {
  said: string;
  /** The screen: its title, its rows, which of them is pressed, and whether it is a switch. */
  title: string;
  rows: string[];
  press: number;
  turns?: boolean;
}

export interface Kind {
  value: string;
  text: string;
  steps: Step[];
}

export const KINDS: Kind[] = [
  {
    value: "ios",
    text: "iPadOS, iOS",
    steps: [
      {
        said: "After “Get the certificate”, allow the download. Then open Settings: at the top stands the profile that came.",
        title: "Settings",
        rows: ["Profile Downloaded", "Wi-Fi", "General"],
        press: 0,
      },
      {
        said: "Install it, top right, with the tablet's own code.",
        title: "Install Profile",
        rows: ["Kalon of …", "Install"],
        press: 1,
      },
      {
        said: "General, About, at the very bottom Certificate Trust Settings: turn Kalon on.",
        title: "Certificate Trust Settings",
        rows: ["Kalon of …"],
        press: 0,
        turns: true,
      },
    ],
  },
  {
    value: "android",
    text: "Android",
    steps: [
      {
        said: "After “Get the certificate”, open Settings, Security (or Security and privacy), More, Encryption and credentials.",
        title: "Security",
        rows: ["Screen lock", "Encryption and credentials"],
        press: 1,
      },
      {
        said: "Install a certificate, and there CA certificate. The warning is meant for certificates nobody gave you.",
        title: "Install a certificate",
        rows: ["CA certificate", "VPN and app user certificate", "Wi-Fi certificate"],
        press: 0,
      },
      {
        said: "Install anyway, and choose kalon-authority.crt among the downloads.",
        title: "Downloads",
        rows: ["kalon-authority.crt"],
        press: 0,
      },
    ],
  },
  {
    value: "chromeos",
    text: "ChromeOS",
    steps: [
      {
        said: "After “Get the certificate”, open the browser's settings: Privacy and security, Security, Manage certificates.",
        title: "Security",
        rows: ["Safe Browsing", "Manage certificates"],
        press: 1,
      },
      {
        said: "Authorities, Import, and choose kalon-authority.crt.",
        title: "Authorities",
        rows: ["Import", "org-…"],
        press: 0,
      },
      {
        said: "Trust it for identifying websites.",
        title: "Certificate authority",
        rows: ["Trust this certificate for identifying websites"],
        press: 0,
        turns: true,
      },
    ],
  },
  {
    value: "windows",
    text: "Windows",
    steps: [
      {
        said: "After “Get the certificate”, open the file and press Install Certificate.",
        title: "Certificate",
        rows: ["Issued to: Kalon of …", "Install Certificate …"],
        press: 1,
      },
      {
        said: "Local Machine (or Current User, where that isn't allowed), Next.",
        title: "Store location",
        rows: ["Current User", "Local Machine"],
        press: 1,
      },
      {
        said: "Place it in Trusted Root Certification Authorities, Next, Finish.",
        title: "Certificate store",
        rows: ["Personal", "Trusted Root Certification Authorities"],
        press: 1,
      },
    ],
  },
  {
    value: "macos",
    text: "macOS",
    steps: [
      {
        said: "After “Get the certificate”, open the file: Keychain Access asks for the machine's password and takes it in.",
        title: "Keychain Access",
        rows: ["System", "Kalon of …"],
        press: 1,
      },
      {
        said: "Open it there, and under Trust say Always Trust.",
        title: "Kalon of …",
        rows: ["When using this certificate: Always Trust"],
        press: 0,
      },
    ],
  },
  {
    value: "other",
    text: "Another",
    steps: [
      {
        said: "After “Get the certificate”, look in the browser's settings for certificates.",
        title: "Settings",
        rows: ["Privacy and security", "Certificates"],
        press: 1,
      },
      {
        said: "Authorities, Import, choose kalon-authority.crt, and trust it for websites.",
        title: "Authorities",
        rows: ["Import"],
        press: 0,
      },
    ],
  },
];

/** What kind of device this is, as far as its browser says. */
export function kindHere(agent: string, touches: number): string {
  if (/iPad|iPhone/.test(agent) || (/Macintosh/.test(agent) && touches > 1)) return "ios";
  if (/Android/.test(agent)) return "android";
  if (/CrOS/.test(agent)) return "chromeos";
  if (/Windows/.test(agent)) return "windows";
  if (/Macintosh/.test(agent)) return "macos";
  return "other";
}
