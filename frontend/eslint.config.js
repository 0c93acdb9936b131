import vue from "eslint-plugin-vue";
import ts from "typescript-eslint";

export default ts.config(
  { ignores: ["dist", "src/api/schema.d.ts"] },
  ...ts.configs.recommended,
  ...vue.configs["flat/essential"],
  { files: ["**/*.vue"], languageOptions: { parserOptions: { parser: ts.parser } } },
  {
    // What people press, fill in and read in rows comes from the library; see below for the few places where nothing fits.
    rules: {
      "vue/no-restricted-html-elements": [
        "error",
        ...["button", "input", "select", "textarea", "table", "dialog"].map((element) => ({
          element,
          message: `Take the library's component instead of <${element}>.`,
        })),
      ],
    },
  },
  {
    // The one-line shorthand with its shared keys; the chooser of files (the library's puts a button into a button); rows of
    // a few figures in a narrow panel, which the library's table only makes wider.
    files: [
      "src/source/LineList.vue",
      "src/parts/FilePick.vue",
      "src/solid/Measure.vue",
      "src/solid/Weigh.vue",
      "src/solid/Steps.vue",
      "src/source/Checkpoints.vue",
    ],
    rules: { "vue/no-restricted-html-elements": "off" },
  },
  { rules: { "vue/multi-word-component-names": "off", "no-undef": "off" } },
);
