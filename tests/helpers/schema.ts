import { XMLParser, XMLValidator } from 'fast-xml-parser';
import facts from '../conformance/musicxml-facts.json' with { type: 'json' };

/**
 * Checks a MusicXML document against the facts derived from the MusicXML 4.0
 * schema (scripts/musicxml-facts.py): element order, allowed children,
 * required and known attributes, value sets and patterns.
 */

type TypeFact = {
  model: string;
  attributes: Record<string, { type: string; required: boolean }>;
  text: string | null;
  children: Record<string, string>;
};
type SimpleFact = {
  base?: string;
  values?: string[];
  union?: (string | SimpleFact)[];
  minInclusive?: string;
  maxInclusive?: string;
  minExclusive?: string;
  pattern?: string;
};

const types = facts.types as unknown as Record<string, TypeFact>;
const simples = facts.simple as unknown as Record<string, SimpleFact>;
const models = new Map<string, RegExp>();

export type Node = { name: string; attributes: Record<string, string>; children: Node[]; text: string };

export const child = (node: Node, name: string) => node.children.find((each) => each.name === name);
export const all = (node: Node, name: string) => node.children.filter((each) => each.name === name);
export const textOf = (node: Node, name: string) => child(node, name)?.text;

type Raw = Record<string, unknown>;

/** Parses a document into plain nodes. */
export function parseXml(document: string): Node {
  const valid = XMLValidator.validate(document);
  if (valid !== true) throw new Error(`Not well formed: ${valid.err.msg} in line ${valid.err.line}`);
  const parser = new XMLParser({
    preserveOrder: true,
    ignoreAttributes: false,
    attributeNamePrefix: '',
    parseTagValue: false,
    parseAttributeValue: false,
    trimValues: false,
    processEntities: true,
  });
  const roots = (parser.parse(document) as Raw[])
    .map(toNode)
    .filter((node) => node && !node.name.startsWith('?'));
  return roots[0]!;
}

function toNode(raw: Raw): Node | null {
  const name = Object.keys(raw).find((key) => key !== ':@');
  if (!name || name === '#text') return null;
  const inner = raw[name] as Raw[];
  const text = inner
    .filter((child) => '#text' in child)
    .map((child) => String(child['#text']))
    .join('');
  return {
    name,
    attributes: (raw[':@'] as Record<string, string> | undefined) ?? {},
    children: inner.map(toNode).filter((node) => node !== null),
    text,
  };
}

/** Everything that is against the schema, as "path: what". */
export function schemaFaults(root: Node): string[] {
  const faults: string[] = [];
  const ids = new Set<string>();
  if (root.name !== 'score-partwise') return [`the root is ${root.name}`];
  visit(root, 'score-partwise', root.name);
  return faults;

  function visit(node: Node, typeName: string, path: string): void {
    const type = types[typeName];
    if (!type) {
      const wrong = valueFault(node.text, typeName);
      if (wrong) faults.push(`${path}: "${node.text}" ${wrong}`);
      if (node.children.length > 0) faults.push(`${path}: may hold no elements`);
      return;
    }
    let model = models.get(typeName);
    if (!model) {
      model = new RegExp(`^${type.model}$`);
      models.set(typeName, model);
    }
    const sequence = node.children.map((child) => `${child.name},`).join('');
    if (!model.test(sequence)) faults.push(`${path}: wrong children: ${sequence}`);
    for (const [name, value] of Object.entries(node.attributes)) {
      const fact = type.attributes[name];
      if (!fact) faults.push(`${path}: unknown attribute ${name}`);
      else {
        const wrong = valueFault(value, fact.type);
        if (wrong) faults.push(`${path}/@${name}: "${value}" ${wrong}`);
        if (fact.type === 'xs:ID') {
          if (ids.has(value)) faults.push(`${path}: the id ${value} stands twice`);
          ids.add(value);
        }
      }
    }
    for (const [name, fact] of Object.entries(type.attributes))
      if (fact.required && !(name in node.attributes)) faults.push(`${path}: lacks attribute ${name}`);
    if (type.text) {
      const wrong = valueFault(node.text, type.text);
      if (wrong) faults.push(`${path}: "${node.text}" ${wrong}`);
    } else if (node.text.trim()) faults.push(`${path}: may hold no text`);
    node.children.forEach((child) => {
      const childType = type.children[child.name];
      if (childType) visit(child, childType, `${path}/${child.name}`);
    });
  }
}

const BASES: Record<string, RegExp> = {
  'xs:string': /^[\s\S]*$/,
  'xs:token': /^(\S(.*\S)?)?$/s,
  'xs:NMTOKEN': /^[\w.:-]+$/,
  'xs:ID': /^[A-Za-z_][\w.-]*$/,
  'xs:IDREF': /^[A-Za-z_][\w.-]*$/,
  'xs:decimal': /^[+-]?(\d+(\.\d*)?|\.\d+)$/,
  'xs:integer': /^[+-]?\d+$/,
  'xs:positiveInteger': /^\+?0*[1-9]\d*$/,
  'xs:nonNegativeInteger': /^\+?\d+$/,
  'xs:date': /^\d{4}-\d\d-\d\d$/,
  'xs:anyURI': /^\S*$/,
};

function valueFault(value: string, typeName: string): string | null {
  const base = BASES[typeName];
  if (base) return base.test(value) ? null : `is no ${typeName}`;
  const simple = simples[typeName];
  return simple ? simpleFault(value, simple) : null;
}

function simpleFault(value: string, simple: SimpleFact): string | null {
  if (simple.union) {
    const ok = simple.union.some((member) =>
      typeof member === 'string' ? valueFault(value, member) === null : simpleFault(value, member) === null,
    );
    return ok ? null : 'fits no allowed form';
  }
  if (simple.base) {
    const wrong = valueFault(value, simple.base);
    if (wrong) return wrong;
  }
  if (simple.values && !simple.values.includes(value)) return 'is not an allowed value';
  if (simple.minInclusive !== undefined && Number(value) < Number(simple.minInclusive)) return 'is too small';
  if (simple.maxInclusive !== undefined && Number(value) > Number(simple.maxInclusive)) return 'is too large';
  if (simple.minExclusive !== undefined && Number(value) <= Number(simple.minExclusive))
    return 'is too small';
  return null;
}
