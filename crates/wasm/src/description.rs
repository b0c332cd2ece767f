//! What the calls take and answer, as an OpenAPI document with a path for each call: the pages' types are made from it as
//! those of the API are from the API's.

use utoipa::ToSchema;
use utoipa::openapi::content::ContentBuilder;
use utoipa::openapi::path::{HttpMethod, OperationBuilder, PathItem, PathsBuilder};
use utoipa::openapi::request_body::RequestBodyBuilder;
use utoipa::openapi::response::ResponseBuilder;
use utoipa::openapi::{ComponentsBuilder, Content, InfoBuilder, OpenApiBuilder, Ref, Required};

/// The calls described so far.
#[derive(Default)]
pub(crate) struct Calls {
    paths: PathsBuilder,
    components: ComponentsBuilder,
}

impl Calls {
    pub(crate) fn call<Q: ToSchema, A: ToSchema>(&mut self, name: &str, about: &str) {
        let question = RequestBodyBuilder::new().content("application/json", content::<Q>());
        let question = question.required(Some(Required::True)).build();
        let answer = ResponseBuilder::new().content("application/json", content::<A>()).build();
        let operation =
            OperationBuilder::new().summary(Some(about.trim())).request_body(Some(question)).response("200", answer);
        let paths = std::mem::take(&mut self.paths);
        self.paths = paths.path(name, PathItem::new(HttpMethod::Post, operation.build()));
        let mut schemas = vec![(Q::name().into_owned(), Q::schema()), (A::name().into_owned(), A::schema())];
        Q::schemas(&mut schemas);
        A::schemas(&mut schemas);
        let components = std::mem::take(&mut self.components);
        self.components = components.schemas_from_iter(schemas);
    }
}

fn content<T: ToSchema>() -> Content {
    ContentBuilder::new().schema(Some(Ref::from_schema_name(T::name()))).build()
}

/// Every call with what it takes and answers, as JSON.
#[must_use]
pub fn description() -> String {
    let mut calls = Calls::default();
    crate::calls::describe(&mut calls);
    let info = InfoBuilder::new().title("The core in the page").version(env!("CARGO_PKG_VERSION")).build();
    let document = OpenApiBuilder::new().info(info).paths(calls.paths).components(Some(calls.components.build()));
    let mut described = serde_json::to_value(document.build()).expect("a description is JSON");
    bright_row_core::schema::drop_null_of_optional(&mut described["components"]["schemas"]);
    serde_json::to_string_pretty(&described).expect("a description is JSON")
}
