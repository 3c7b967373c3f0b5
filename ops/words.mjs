// Prints every text of the web that people can read, a JSON row each: file, line, text.  Reads files by TypeScript's own parser, so
// that nothing hides in a template or an attribute.  Called by ops/words.py.
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';

const [root, ...files] = process.argv.slice(2);
const ts = createRequire(`${root}/web/`)('typescript');

/** Attributes and calls whose texts are for machines. */
const MACHINE = new Set(['className', 'key', 'to', 'href', 'src', 'type', 'id', 'htmlFor', 'name', 'role', 'd', 'viewBox', 'look', 'size', 'sign',
  'accept', 'autoComplete', 'inputMode', 'as', 'aria-live', 'aria-current', 'rel', 'target', 'fill', 'stroke', 'method', 'pattern', 'transform']);

function isRead(text) {
  const plain = text.replace(/\s+/g, ' ').trim();
  if (!/\p{L}{2}/u.test(plain) || /^(https?:|\/|#|\.|@|--|\[)/.test(plain) || /^[\w.-]+\/[\w./{}-]+$/.test(plain)) return false;
  return /\p{L}[\p{L}’']* [\p{L}“{‘(]/u.test(plain) || /^\p{Lu}[\p{L}’' -]*[.!?…:]?$/u.test(plain);
}

function isForMachines(node) {
  for (let n = node.parent; n; n = n.parent) {
    if (ts.isImportDeclaration(n) || ts.isExportDeclaration(n) || ts.isLiteralTypeNode(n)) return true;
    if (ts.isJsxAttribute(n)) return MACHINE.has(n.name.getText());
    if (ts.isPropertyAssignment(n) && ['className', 'queryKey'].includes(n.name.getText())) return true;
    if (ts.isVariableDeclaration(n) && /class|look|style/i.test(n.name.getText())) return true;
    if (ts.isCallExpression(n) && /querySelector|addEventListener|getItem|setItem|closest|matches|useKept/.test(n.expression.getText())) return true;
  }
  return false;
}

for (const file of files) {
  const source = ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest, true, ts.ScriptKind.TSX);
  const row = (node, text) => {
    const line = source.getLineAndCharacterOfPosition(node.getStart()).line + 1;
    console.log(JSON.stringify([file.slice(root.length + 1), line, text.replace(/\s+/g, ' ').trim()]));
  };
  const visit = (node) => {
    let text = null;
    if (ts.isJsxText(node)) text = node.text;
    else if (ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node)) text = node.text;
    else if (ts.isTemplateExpression(node)) text = node.head.text + node.templateSpans.map((s) => `{…}${s.literal.text}`).join('');
    if (text !== null && isRead(text) && !isForMachines(node) && !/(^| )(flex|grid|text-|px-|py-|mt-|border)[\w-]*( |$)/.test(text)) row(node, text);
    ts.forEachChild(node, visit);
  };
  visit(source);
}
