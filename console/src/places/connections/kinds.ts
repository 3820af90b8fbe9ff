/** What each kind of connection asks for. The service checks it all again. */
export interface Setting {
  name: string;
  title: string;
  usual?: string;
  required?: boolean;
  type?: "number" | "url" | "email";
  of?: string[];
  hint?: string;
}

export const KINDS: Record<string, { title: string; secret: string; refresh?: string; settings: Setting[] }> = {
  mailbox: {
    title: "Mailbox",
    secret: "Password or client secret",
    refresh: "Refresh token",
    settings: [
      { name: "host", title: "IMAP server", required: true },
      { name: "port", title: "Port", type: "number", usual: "993" },
      { name: "user", title: "User", required: true },
      { name: "security", title: "Security", of: ["tls", "starttls"] },
      { name: "ca_file", title: "File with an authority of your own", hint: "On the server; empty for the system's." },
      { name: "on_behalf_of", title: "Shared mailbox", hint: "Whose mailbox it is; empty for the user's own." },
      { name: "auth", title: "Sign in by", of: ["password", "oauth2"] },
      { name: "token_url", title: "Token server", type: "url", hint: "For oauth2; the secret is the client's." },
      { name: "client_id", title: "Client id" },
      { name: "scope", title: "Scope" },
    ],
  },
  outbox: {
    title: "Outbox",
    secret: "Password",
    settings: [
      { name: "host", title: "SMTP server", required: true },
      { name: "port", title: "Port", type: "number", usual: "587" },
      { name: "sender", title: "Sender", type: "email", required: true },
      { name: "user", title: "User", hint: "Empty to send without signing in." },
      { name: "security", title: "Security", of: ["starttls", "tls", "none"] },
      { name: "ca_file", title: "File with an authority of your own" },
    ],
  },
  chat: {
    title: "Chat",
    secret: "Token",
    settings: [{ name: "url", title: "Address that takes messages", type: "url", required: true }],
  },
  ledger: {
    title: "Ledger",
    secret: "Token",
    settings: [
      { name: "url", title: "Address", type: "url", required: true },
      { name: "timeout", title: "Seconds to wait for an answer", type: "number", usual: "10" },
      { name: "late_window", title: "Seconds within which it may still book", type: "number", usual: "5" },
    ],
  },
};
