#!/usr/bin/env python3
"""Derives tests/conformance/musicxml-facts.json from the MusicXML 4.0 schema.

Usage: python3 scripts/musicxml-facts.py musicxml_4_0.xsd

The schema itself is not part of this repository. A copy is contained, for
instance, in the PyPI package `musicxml` 1.6.3 as
musicxml/generate_classes/musicxml_4_0.xsd.

What is kept are facts only: for each type the order of its children as a
regular expression over "name," tokens, its attributes (required or not, and
their value sets) and the value set or pattern of its text.
"""
import json
import pathlib
import re
import sys
import xml.etree.ElementTree as ET

XS = "{http://www.w3.org/2001/XMLSchema}"


def main(path):
    text = pathlib.Path(path).read_text(encoding="utf-8")
    version = re.search(r"Version ([\d.]+)", text)
    root = ET.fromstring(text)
    simple, complex_, groups, attribute_groups, elements = {}, {}, {}, {}, {}
    tables = {"simpleType": simple, "complexType": complex_, "group": groups,
              "attributeGroup": attribute_groups, "element": elements}
    for node in root:
        kind = node.tag.replace(XS, "")
        if kind in tables:
            tables[kind][node.get("name")] = node

    def occurs(node, model):
        low, high = node.get("minOccurs", "1"), node.get("maxOccurs", "1")
        if not model or (low, high) == ("1", "1"):
            return model
        mark = {("0", "1"): "?", ("0", "unbounded"): "*", ("1", "unbounded"): "+"}.get((low, high))
        if mark is None:
            mark = "{%s,%s}" % (low, "" if high == "unbounded" else high)
        return "(?:%s)%s" % (model, mark)

    children_types = {}

    def model_of(node, owner):
        kind = node.tag.replace(XS, "")
        if kind == "sequence":
            return occurs(node, "".join(model_of(c, owner) for c in node if not c.tag.endswith("annotation")))
        if kind == "choice":
            return occurs(node, "(?:%s)" % "|".join(model_of(c, owner) for c in node if not c.tag.endswith("annotation")))
        if kind == "group":
            target = groups[node.get("ref")]
            inner = "".join(model_of(c, owner) for c in target if not c.tag.endswith("annotation"))
            return occurs(node, inner)
        if kind == "element":
            name = node.get("name") or node.get("ref")
            declared = node.get("type")
            if declared is None and node.get("name") and (inline := node.find(XS + "complexType")) is not None:
                declared = "%s/%s" % (owner, name)
                complex_.setdefault(declared, inline)
            children_types.setdefault(owner, {})[name] = declared or "ref:" + name
            return occurs(node, "(?:%s,)" % name)
        return ""

    def attributes_of(node, out):
        for child in node:
            kind = child.tag.replace(XS, "")
            if kind == "attribute":
                name = child.get("name") or child.get("ref")
                out[name] = {"type": child.get("type", "string"), "required": child.get("use") == "required"}
            elif kind == "attributeGroup":
                attributes_of(attribute_groups[child.get("ref")], out)
        return out

    def complex_facts(name, node):
        fact = {"model": "", "attributes": attributes_of(node, {}), "text": None}
        content = node.find(XS + "simpleContent") or None
        content = node.find(XS + "simpleContent") if content is None else content
        derived = node.find(XS + "complexContent")
        if content is not None:
            extension = content[0]
            fact["text"] = extension.get("base")
            attributes_of(extension, fact["attributes"])
            if extension.get("base") in complex_:
                base = complex_facts(extension.get("base"), complex_[extension.get("base")])
                fact["text"] = base["text"]
                fact["attributes"] = {**base["attributes"], **fact["attributes"]}
        elif derived is not None:
            extension = derived[0]
            base = complex_facts(extension.get("base"), complex_[extension.get("base")])
            children_types.setdefault(name, {}).update(children_types.get(extension.get("base"), {}))
            own = "".join(model_of(c, name) for c in extension)
            fact["model"] = base["model"] + own
            fact["attributes"] = {**base["attributes"], **attributes_of(extension, {})}
        else:
            fact["model"] = "".join(model_of(c, name) for c in node)
        return fact

    def simple_facts(node):
        union = node.find(XS + "union")
        if union is not None:
            members = (union.get("memberTypes") or "").split()
            return {"union": members + [simple_facts(c) for c in union.findall(XS + "simpleType")]}
        restriction = node.find(XS + "restriction")
        fact = {"base": restriction.get("base")}
        values = [e.get("value") for e in restriction.findall(XS + "enumeration")]
        if values:
            fact["values"] = values
        for facet in ("minInclusive", "maxInclusive", "minExclusive", "pattern"):
            found = restriction.find(XS + facet)
            if found is not None:
                fact[facet] = found.get("value")
        return fact

    # The document element of a partwise score, with its inline types.
    partwise = elements["score-partwise"].find(XS + "complexType")
    complex_["score-partwise"] = partwise
    types, queue = {}, ["score-partwise"]
    while queue:
        name = queue.pop()
        if name in types or name not in complex_:
            continue
        types[name] = complex_facts(name, complex_[name])
        types[name]["children"] = {c: t for c, t in children_types.get(name, {}).items()}
        queue.extend(types[name]["children"].values())
    out = {
        "source": "MusicXML schema, W3C Music Notation Community Group, version %s (musicxml_4_0.xsd)" % (version.group(1) if version else "4.0"),
        "types": dict(sorted(types.items())),
        "simple": {n: simple_facts(s) for n, s in sorted(simple.items())},
    }
    target = pathlib.Path(__file__).parent.parent / "tests/conformance/musicxml-facts.json"
    target.parent.mkdir(parents=True, exist_ok=True)
    target.write_text(json.dumps(out, separators=(",", ":")) + "\n")
    print(f"{len(types)} element types, {len(simple)} value types, {target.stat().st_size} bytes")


main(sys.argv[1])
