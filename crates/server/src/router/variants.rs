//! Variants of a type as types of their own, so that clients made of the description have a name for each.
//!
//! A type that is one of several things (`oneOf`), each with its fields, is described with its variants inside of it; where fields are
//! added to it (`allOf`), makers of clients give up. Both say the same as a choice among named types, each with all of its fields.

use std::collections::BTreeMap;

use serde_json::{Map, Value, json};

/// A thing that a type may be: its word, the field that holds the word where there is one, and all of its fields.
#[derive(Clone)]
struct Variant {
    tag: Option<String>,
    word: String,
    fields: Value,
}

/// Gives each variant of a type a name of its own, `TapeWork` and `measured` become `TapeWorkMeasured`. Types whose variants cannot
/// be known by a word or by their only field stay as they are.
pub(super) fn name_variants(schemas: &mut Map<String, Value>) {
    let known: BTreeMap<String, Vec<Variant>> =
        schemas.iter().filter_map(|(name, schema)| Some((name.clone(), variants_of(schema, schemas)?))).collect();
    let added: Vec<(String, Vec<Variant>)> = schemas
        .iter()
        .filter_map(|(name, schema)| Some((name.clone(), with_fields_added(schema, &known, schemas)?)))
        .collect();
    for (name, variants) in known.into_iter().chain(added) {
        if variants.iter().any(|one| schemas.contains_key(&named(&name, &one.word))) {
            continue;
        }
        let mut choice = json!({ "oneOf": [] });
        if let Some(words) = schemas.get(&name).and_then(|schema| schema.get("description")) {
            choice["description"] = words.clone();
        }
        let refer = |one: &Variant| format!("#/components/schemas/{}", named(&name, &one.word));
        choice["oneOf"] = variants.iter().map(|one| json!({ "$ref": refer(one) })).collect();
        if let Some(tag) = variants.first().and_then(|one| one.tag.clone()) {
            let mapping: Map<String, Value> =
                variants.iter().map(|one| (one.word.clone(), json!(refer(one)))).collect();
            choice["discriminator"] = json!({ "propertyName": tag, "mapping": mapping });
        }
        schemas.insert(name.clone(), choice);
        schemas.extend(variants.into_iter().map(|one| (named(&name, &one.word), one.fields)));
    }
}

/// `TapeWork` and `neck-section` to `TapeWorkNeckSection`.
fn named(name: &str, word: &str) -> String {
    let begun = |part: &str| {
        let mut letters = part.chars();
        letters.next().map(|first| first.to_uppercase().collect::<String>() + letters.as_str()).unwrap_or_default()
    };
    name.to_owned() + &word.split(['-', '_', ' ']).map(begun).collect::<String>()
}

/// What a type may be, if it is one of several things that all have a word.
fn variants_of(schema: &Value, schemas: &Map<String, Value>) -> Option<Vec<Variant>> {
    let offers = schema.get("oneOf")?.as_array()?;
    let variant = |offer: &Value| {
        // What has a name already needs none.
        if offer.get("$ref").is_some() {
            return None;
        }
        let fields = flat(offer, schemas)?;
        let (tag, word) = word_of(&fields)?;
        Some(Variant { tag, word, fields })
    };
    let variants = offers.iter().map(variant).collect::<Option<Vec<_>>>()?;
    let alike = variants.iter().all(|one| one.tag == variants[0].tag);
    let distinct =
        variants.iter().map(|one| &one.word).collect::<std::collections::BTreeSet<_>>().len() == variants.len();
    (alike && distinct).then_some(variants)
}

/// The same for one of these types with fields added.
fn with_fields_added(
    schema: &Value,
    known: &BTreeMap<String, Vec<Variant>>,
    schemas: &Map<String, Value>,
) -> Option<Vec<Variant>> {
    let parts = schema.get("allOf")?.as_array()?;
    let is_choice = |part: &&Value| referred(part).is_some_and(|name| known.contains_key(name));
    let choice = parts.iter().find(is_choice)?;
    let others: Vec<&Value> = parts.iter().filter(|part| *part != choice).collect();
    let with_others = |one: &Variant| {
        let all = std::iter::once(&one.fields).chain(others.iter().copied());
        let mut fields = merged(all, schemas)?;
        if let Some(words) = one.fields.get("description") {
            fields["description"] = words.clone();
        }
        Some(Variant { fields, ..one.clone() })
    };
    known.get(referred(choice)?)?.iter().map(with_others).collect()
}

fn referred(schema: &Value) -> Option<&str> {
    schema.get("$ref")?.as_str()?.strip_prefix("#/components/schemas/")
}

/// A type with fields as one list of them; `None` for any other.
fn flat(schema: &Value, schemas: &Map<String, Value>) -> Option<Value> {
    if let Some(name) = referred(schema) {
        return flat(schemas.get(name)?, schemas);
    }
    if let Some(parts) = schema.get("allOf") {
        let mut all = merged(parts.as_array()?.iter(), schemas)?;
        if let Some(words) = schema.get("description") {
            all["description"] = words.clone();
        }
        return Some(all);
    }
    (schema.get("type")? == "object" && schema.get("properties").is_some()).then(|| schema.clone())
}

/// The fields of all parts.
fn merged<'a>(parts: impl Iterator<Item = &'a Value>, schemas: &Map<String, Value>) -> Option<Value> {
    let (mut properties, mut required) = (Map::new(), Vec::new());
    for part in parts {
        let part = flat(part, schemas)?;
        properties.extend(part.get("properties")?.as_object()?.clone());
        for field in part.get("required").and_then(Value::as_array).into_iter().flatten() {
            if !required.contains(field) {
                required.push(field.clone());
            }
        }
    }
    Some(json!({ "type": "object", "properties": properties, "required": required }))
}

/// The word of a variant with the field that holds it; the only field it has where no field holds a word.
fn word_of(fields: &Value) -> Option<(Option<String>, String)> {
    let properties = fields.get("properties")?.as_object()?;
    let required = fields.get("required").and_then(Value::as_array)?;
    let tag = properties.iter().filter(|(name, _)| required.contains(&json!(name))).find_map(|(name, field)| {
        let [word] = field.get("enum")?.as_array()?.as_slice() else { return None };
        Some((Some(name.clone()), word.as_str()?.to_owned()))
    });
    let only = || properties.keys().next().filter(|_| properties.len() == 1).map(|name| (None, name.clone()));
    tag.or_else(only)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn named_in(schemas: Value) -> Value {
        let Value::Object(mut schemas) = schemas else { unreachable!("it is an object") };
        name_variants(&mut schemas);
        Value::Object(schemas)
    }

    fn tagged(word: &str, field: &str) -> Value {
        json!({ "type": "object", "description": word, "required": ["kind"],
            "properties": { "kind": { "type": "string", "enum": [word] }, field: { "type": "number" } } })
    }

    #[test]
    fn each_variant_has_a_name_and_all_of_its_fields() {
        let named = named_in(json!({
            "Work": { "description": "Work.", "oneOf": [tagged("measured", "mm"), tagged("taken-off", "why")] },
            "Entry": { "allOf": [{ "$ref": "#/components/schemas/Work" }, { "$ref": "#/components/schemas/At" }] },
            "At": { "type": "object", "properties": { "at": { "type": "string" } }, "required": ["at"] },
        }));
        assert_eq!(named["Work"]["oneOf"][1]["$ref"], "#/components/schemas/WorkTakenOff");
        assert_eq!(named["Work"]["discriminator"]["mapping"]["measured"], "#/components/schemas/WorkMeasured");
        assert_eq!(named["Work"]["description"], "Work.");
        assert_eq!(named["WorkMeasured"], tagged("measured", "mm"));
        let entry = &named["EntryTakenOff"];
        assert_eq!(entry["required"], json!(["kind", "at"]));
        assert_eq!(entry["properties"].as_object().expect("fields").len(), 3);
        assert_eq!(named["Entry"]["discriminator"]["propertyName"], "kind");
    }

    #[test]
    fn a_variant_without_a_word_is_named_by_its_only_field() {
        let of = |field: &str| json!({ "type": "object", "properties": { field: {} }, "required": [field] });
        let named = named_in(json!({ "Part": { "oneOf": [of("row"), of("section")] } }));
        assert_eq!(named["PartRow"], of("row"));
        assert!(named["Part"].get("discriminator").is_none());
    }

    #[test]
    fn what_has_no_words_or_would_take_a_name_stays() {
        let untold = json!({ "Either": { "oneOf": [{ "type": "string" }, { "type": "number" }] },
            "Some": { "oneOf": [{ "type": "null" }, { "$ref": "#/components/schemas/Either" }] },
            "Work": { "oneOf": [tagged("done", "a"), tagged("done", "b")] },
            "Other": { "oneOf": [tagged("one", "a"), tagged("two", "b")] }, "OtherOne": { "type": "string" } });
        assert_eq!(named_in(untold.clone()), untold);
    }
}
