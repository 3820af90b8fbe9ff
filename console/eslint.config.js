import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["dist", "src/api/schema.ts"] },
  ...tseslint.configs.strict,
  { rules: { "@typescript-eslint/no-explicit-any": "error" } },
);
