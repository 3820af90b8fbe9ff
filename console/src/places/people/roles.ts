/** What each role may do, in words; the service enforces it. */
export const ROLES: Record<string, string> = {
  clerk: "Looks at everything, works at the desk, uploads files.",
  approver: "Looks at everything and comments; changes no value.",
  admin: "Does what a clerk does, and sets up pipelines, connections and people.",
};
