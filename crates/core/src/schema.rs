//! Descriptions of the types that go over the wire and through the door of the page, where they are described more loosely than
//! they are written.

use serde_json::{Value, json};

/// A field that need not be there is left out and never `null`, so its schema does not offer `null`.
pub fn drop_null_of_optional(schemas: &mut Value) {
    let mut open: Vec<&mut Value> = schemas.as_object_mut().into_iter().flat_map(|all| all.values_mut()).collect();
    while let Some(schema) = open.pop() {
        let Some(fields) = schema.as_object_mut() else { continue };
        let required: Vec<Value> = fields.get("required").and_then(Value::as_array).cloned().unwrap_or_default();
        for (key, value) in fields.iter_mut() {
            match key.as_str() {
                "allOf" | "oneOf" => open.extend(value.as_array_mut().into_iter().flatten()),
                "properties" => {
                    let properties = value.as_object_mut().into_iter().flatten();
                    properties.filter(|(name, _)| !required.contains(&json!(name))).for_each(|(_, it)| drop_null(it));
                }
                _ => {}
            }
        }
    }
}

fn drop_null(property: &mut Value) {
    if let Some(kinds) = property.get_mut("type").and_then(Value::as_array_mut) {
        kinds.retain(|kind| kind != "null");
        if let [kind] = kinds.as_slice() {
            property["type"] = kind.clone();
        }
    }
    let Some(offers) = property.get_mut("oneOf").and_then(Value::as_array_mut) else { return };
    offers.retain(|offer| *offer != json!({ "type": "null" }));
    if let [only] = offers.as_slice() {
        let mut only = only.clone();
        if let Some(words) = property.get("description") {
            only["description"] = words.clone();
        }
        *property = only;
    }
}
