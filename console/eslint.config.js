import tseslint from "typescript-eslint";

export default tseslint.config(
  { ignores: ["dist", "src/api/schema.generated.ts"] },
  ...tseslint.configs.strict,
  { rules: { "@typescript-eslint/no-explicit-any": "error" } },
);
