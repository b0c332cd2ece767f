//! The description of the API: what the routes say of themselves, and what holds for all of them.

use std::collections::BTreeMap;

use serde_json::{Value, json};

use super::api;
use super::variants::name_variants;
use crate::auth::session::COOKIE;

/// What a status means where the route says no more of it.
const MEANINGS: [(&str, &str); 7] = [
    ("200", "Done"),
    ("201", "Made"),
    ("401", "Nobody is signed in, or the password is another"),
    ("403", "Not for the one who asks"),
    ("409", "It cannot be as things stand"),
    ("422", "Some of it cannot be"),
    ("429", "Too often: later"),
];
/// How the description names the session that a cookie holds.
const SESSION: &str = "session";

/// The description of the API, as it is committed in `docs/openapi.json`.
#[must_use]
pub fn openapi_json() -> String {
    let mut openapi = api().into_openapi();
    // The version of the product is not the API's: it would change the file with every release.
    "1".clone_into(&mut openapi.info.version);
    openapi.info.license = None;
    let mut described = serde_json::to_value(&openapi).expect("a description is JSON");
    bright_row_core::schema::drop_null_of_optional(&mut described["components"]["schemas"]);
    described["components"]["schemas"].as_object_mut().into_iter().for_each(name_variants);
    described["components"]["securitySchemes"] =
        json!({ SESSION: { "type": "apiKey", "in": "cookie", "name": COOKIE } });
    let paths = described["paths"].as_object_mut().into_iter().flatten();
    for (path, methods) in paths {
        for (method, operation) in methods.as_object_mut().into_iter().flatten() {
            answered_by_any(method, operation);
            signed_in(path, method, operation);
            meanings(operation);
            files(operation);
        }
    }
    with_examples(&mut described);
    serde_json::to_string_pretty(&described).expect("a description is JSON")
}

/// Adds what the layers around every route may answer: a request that cannot be read, that is another site's, that takes too long,
/// and a server that has too much to do or whose database does not answer.
fn answered_by_any(method: &str, operation: &mut Value) {
    let problem = json!({ "application/problem+json": { "schema": { "$ref": "#/components/schemas/Problem" } } });
    let with_body = operation.get("requestBody").is_some();
    let mut said = vec![("400", "The request cannot be read"), ("503", "Too busy, or the database does not answer")];
    if method != "get" {
        said.extend([("403", "Asked by another site's page, or not for the one who asks"), ("408", "Took too long")]);
    }
    if with_body {
        said.extend([("413", "Too large"), ("415", "Another media type is wanted"), ("422", "Some of it cannot be")]);
    }
    for (status, description) in said {
        let answer = json!({ "description": description, "content": problem });
        if let Some(responses) = operation["responses"].as_object_mut() {
            responses.entry(status).or_insert(answer);
        }
    }
}

/// Who is asked for a session: every route that answers 401, but for those that begin one.
fn signed_in(path: &str, method: &str, operation: &mut Value) {
    let begins = method == "post" && path.starts_with("/api/session");
    if operation["responses"].get("401").is_some() && !begins {
        operation["security"] = json!([{ SESSION: [] }]);
    }
}

/// Every answer says what it means.
fn meanings(operation: &mut Value) {
    for (status, answer) in operation["responses"].as_object_mut().into_iter().flatten() {
        if let Some((_, meaning)) = MEANINGS.iter().find(|(known, _)| known == status)
            && let Some(answer) = answer.as_object_mut()
        {
            answer.entry("description").or_insert_with(|| json!(meaning));
        }
    }
}

/// A file is its bytes, not a list of numbers.
fn files(operation: &mut Value) {
    let asked = operation.get_mut("requestBody").and_then(|body| body.get_mut("content"));
    if let Some(content) = asked {
        bytes(content);
    }
    for (_, answer) in operation["responses"].as_object_mut().into_iter().flatten() {
        if let Some(content) = answer.get_mut("content") {
            bytes(content);
        }
    }
}

fn bytes(content: &mut Value) {
    for (kind, body) in content.as_object_mut().into_iter().flatten() {
        if !kind.contains("json") && body["schema"]["type"] == "array" {
            body["schema"] = json!({ "type": "string", "format": "binary" });
        }
    }
}

/// Bodies that are taken as they stand, by method and path.
///
/// # Panics
/// Never: a test reads them.
#[must_use]
pub fn examples() -> BTreeMap<String, Value> {
    serde_json::from_str(include_str!("../examples.json")).expect("examples are JSON")
}

fn with_examples(described: &mut Value) {
    for (operation, body) in examples() {
        let (method, path) = operation.split_once(' ').expect("a method and a path");
        described["paths"][path][method.to_lowercase()]["requestBody"]["content"]["application/json"]["example"] = body;
    }
}
