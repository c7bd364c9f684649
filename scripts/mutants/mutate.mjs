import ts from 'typescript';

/** @typedef {{ start: number, end: number, text: string, what: string }} Mutation a change of a source by its offsets */

const K = ts.SyntaxKind;
/** What an operator is mistaken for. */
const OPERATORS = new Map([
  [K.LessThanToken, '<='],
  [K.LessThanEqualsToken, '<'],
  [K.GreaterThanToken, '>='],
  [K.GreaterThanEqualsToken, '>'],
  [K.EqualsEqualsEqualsToken, '!=='],
  [K.ExclamationEqualsEqualsToken, '==='],
  [K.AmpersandAmpersandToken, '||'],
  [K.BarBarToken, '&&'],
  [K.PlusToken, '-'],
  [K.MinusToken, '+'],
  [K.AsteriskToken, '/'],
  [K.SlashToken, '*'],
]);
const METHODS = new Map([
  ['some', 'every'],
  ['every', 'some'],
  ['min', 'max'],
  ['max', 'min'],
  ['toLowerCase', 'toUpperCase'],
  ['findLast', 'find'],
  ['at', 'slice'],
]);

/**
 * The mutations of a source: each one small change of what it does. Types, imports and docblocks are left alone.
 *
 * @param {string} source
 * @returns {Mutation[]}
 */
export function mutationsOf(source) {
  const file = ts.createSourceFile('x.ts', source, ts.ScriptTarget.ES2022, true);
  /** @type {Mutation[]} */
  const found = [];
  const add = (node, text, what) => found.push({ start: node.getStart(file), end: node.getEnd(), text, what });
  const visit = (node) => {
    if (ts.isImportDeclaration(node) || ts.isExportDeclaration(node) || ts.isTypeNode(node)) return;
    if (ts.isInterfaceDeclaration(node) || ts.isTypeAliasDeclaration(node)) return;
    for (const rule of RULES) rule(node, add, file);
    ts.forEachChild(node, visit);
  };
  visit(file);
  return found;
}

/** Each looks at a node, and adds what could be wrong with it. */
const RULES = [
  (node, add) => {
    if (!ts.isBinaryExpression(node)) return;
    const other = OPERATORS.get(node.operatorToken.kind);
    if (other) add(node.operatorToken, other, `${node.operatorToken.getText()} is ${other}`);
  },
  (node, add) => {
    if (!ts.isIfStatement(node) && !ts.isConditionalExpression(node)) return;
    const condition = ts.isIfStatement(node) ? node.expression : node.condition;
    add(condition, 'true', 'the condition always holds');
    add(condition, 'false', 'the condition never holds');
  },
  (node, add) => {
    if (ts.isPrefixUnaryExpression(node) && node.operator === K.ExclamationToken)
      add(node, node.operand.getText(), 'not is left out');
  },
  (node, add) => {
    if (ts.isNumericLiteral(node)) add(node, String(Number(node.text.replaceAll('_', '')) + 1), 'one more');
    if (node.kind === K.TrueKeyword) add(node, 'false', 'true is false');
    if (node.kind === K.FalseKeyword) add(node, 'true', 'false is true');
  },
  (node, add) => {
    if (!ts.isStringLiteral(node) && !ts.isNoSubstitutionTemplateLiteral(node)) return;
    // A name of something is no text.
    if (ts.isPropertyAssignment(node.parent) && node.parent.name === node) return;
    if (ts.isElementAccessExpression(node.parent) || ts.isLiteralTypeNode(node.parent)) return;
    add(node, node.text === '' ? "'mutant'" : "''", 'another text');
  },
  (node, add) => {
    if (node.kind === K.RegularExpressionLiteral) add(node, '/(?!)/g', 'the pattern fits nothing');
  },
  (node, add) => {
    if (!ts.isCallExpression(node) || !ts.isPropertyAccessExpression(node.expression)) return;
    const other = METHODS.get(node.expression.name.text);
    if (other) add(node.expression.name, other, `${node.expression.name.text} is ${other}`);
    if (['filter', 'sort', 'reverse', 'trim', 'slice'].includes(node.expression.name.text))
      add(node, node.expression.expression.getText(), `${node.expression.name.text} is left out`);
  },
  (node, add) => {
    if (ts.isExpressionStatement(node)) add(node, ';', 'the statement is left out');
  },
  (node, add, file) => {
    if (!ts.isArrayLiteralExpression(node) || node.elements.length < 2) return;
    node.elements.forEach((element, index) => {
      const rest = node.elements.filter((_, other) => other !== index).map((other) => other.getText(file));
      add(node, `[${rest.join(', ')}]`, `without ${element.getText(file).slice(0, 40)}`);
    });
  },
];

/** @param {string} source @param {Mutation} mutation */
export function mutated(source, { start, end, text }) {
  return source.slice(0, start) + text + source.slice(end);
}

/** Numbers that are the same for the same seed (Mulberry32). @param {number} seed */
export function randomFrom(seed) {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed);
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}
