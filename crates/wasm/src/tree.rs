//! Reads types from JSON that was read already.
//!
//! A page loads everything here before its first tap, and most of it would be code that reads a hundred types from text, each
//! as an object and as an array. The pages write objects only, so this reads them from a tree, and from objects only: the file
//! is a fifth smaller for it.

use serde::de::value::{MapDeserializer, SeqDeserializer, StringDeserializer};
use serde::de::{
    Deserialize, DeserializeSeed, Deserializer, EnumAccess, Error as _, IntoDeserializer, VariantAccess, Visitor,
};
use serde::forward_to_deserialize_any;
use serde_json::{Error, Value};

/// JSON to be read.
pub(crate) struct Tree(pub(crate) Value);

impl IntoDeserializer<'_, Error> for Tree {
    type Deserializer = Self;

    fn into_deserializer(self) -> Self {
        self
    }
}

/// Reads a type from text.
pub(crate) fn read<'de, T: Deserialize<'de>>(text: &str) -> Result<T, Error> {
    T::deserialize(Tree(serde_json::from_str(text)?))
}

fn not(what: &str) -> Error {
    Error::custom(format_args!("not {what}"))
}

fn map<'de, V: Visitor<'de>>(value: Value, visitor: V) -> Result<V::Value, Error> {
    let Value::Object(fields) = value else { return Err(not("an object")) };
    visitor.visit_map(MapDeserializer::new(fields.into_iter().map(|(name, value)| (name, Tree(value)))))
}

fn seq<'de, V: Visitor<'de>>(value: Value, visitor: V) -> Result<V::Value, Error> {
    let Value::Array(items) = value else { return Err(not("an array")) };
    visitor.visit_seq(SeqDeserializer::new(items.into_iter().map(Tree)))
}

fn number<'de, V: Visitor<'de>>(value: &Value, visitor: V) -> Result<V::Value, Error> {
    if let Some(number) = value.as_u64() {
        visitor.visit_u64(number)
    } else if let Some(number) = value.as_i64() {
        visitor.visit_i64(number)
    } else {
        visitor.visit_f64(value.as_f64().ok_or_else(|| not("a number"))?)
    }
}

macro_rules! numbers {
    ($($method:ident)+) => {$(
        fn $method<V: Visitor<'de>>(self, visitor: V) -> Result<V::Value, Error> {
            number(&self.0, visitor)
        }
    )+};
}

macro_rules! texts {
    ($($method:ident)+) => {$(
        fn $method<V: Visitor<'de>>(self, visitor: V) -> Result<V::Value, Error> {
            let Value::String(text) = self.0 else { return Err(not("a text")) };
            visitor.visit_string(text)
        }
    )+};
}

impl<'de> Deserializer<'de> for Tree {
    type Error = Error;

    fn deserialize_any<V: Visitor<'de>>(self, visitor: V) -> Result<V::Value, Error> {
        match self.0 {
            Value::Null => visitor.visit_unit(),
            Value::Bool(flag) => visitor.visit_bool(flag),
            Value::String(text) => visitor.visit_string(text),
            value @ Value::Number(_) => number(&value, visitor),
            value @ Value::Array(_) => seq(value, visitor),
            value @ Value::Object(_) => map(value, visitor),
        }
    }

    numbers! { deserialize_u8 deserialize_u16 deserialize_u32 deserialize_u64 deserialize_i8 deserialize_i16 deserialize_i32 deserialize_i64 deserialize_f32 deserialize_f64 }

    texts! { deserialize_str deserialize_string deserialize_identifier }

    fn deserialize_bool<V: Visitor<'de>>(self, visitor: V) -> Result<V::Value, Error> {
        visitor.visit_bool(self.0.as_bool().ok_or_else(|| not("true or false"))?)
    }

    fn deserialize_option<V: Visitor<'de>>(self, visitor: V) -> Result<V::Value, Error> {
        if self.0.is_null() { visitor.visit_none() } else { visitor.visit_some(self) }
    }

    fn deserialize_newtype_struct<V: Visitor<'de>>(self, _: &'static str, visitor: V) -> Result<V::Value, Error> {
        visitor.visit_newtype_struct(self)
    }

    fn deserialize_seq<V: Visitor<'de>>(self, visitor: V) -> Result<V::Value, Error> {
        seq(self.0, visitor)
    }

    fn deserialize_tuple<V: Visitor<'de>>(self, _: usize, visitor: V) -> Result<V::Value, Error> {
        seq(self.0, visitor)
    }

    fn deserialize_map<V: Visitor<'de>>(self, visitor: V) -> Result<V::Value, Error> {
        map(self.0, visitor)
    }

    fn deserialize_struct<V: Visitor<'de>>(
        self,
        _: &'static str,
        _: &'static [&'static str],
        visitor: V,
    ) -> Result<V::Value, Error> {
        map(self.0, visitor)
    }

    fn deserialize_enum<V: Visitor<'de>>(
        self,
        _: &'static str,
        _: &'static [&'static str],
        visitor: V,
    ) -> Result<V::Value, Error> {
        match self.0 {
            Value::String(name) => visitor.visit_enum(Variant { name, content: Value::Null }),
            Value::Object(fields) if fields.len() == 1 => {
                let (name, content) = fields.into_iter().next().ok_or_else(|| not("a variant"))?;
                visitor.visit_enum(Variant { name, content })
            }
            _ => Err(not("a variant")),
        }
    }

    fn deserialize_ignored_any<V: Visitor<'de>>(self, visitor: V) -> Result<V::Value, Error> {
        visitor.visit_unit()
    }

    forward_to_deserialize_any! { i128 u128 char bytes byte_buf unit unit_struct tuple_struct }
}

/// A variant of an enum with what it holds.
struct Variant {
    name: String,
    content: Value,
}

impl<'de> EnumAccess<'de> for Variant {
    type Error = Error;
    type Variant = Tree;

    fn variant_seed<V: DeserializeSeed<'de>>(self, seed: V) -> Result<(V::Value, Tree), Error> {
        let name: StringDeserializer<Error> = self.name.into_deserializer();
        Ok((seed.deserialize(name)?, Tree(self.content)))
    }
}

impl<'de> VariantAccess<'de> for Tree {
    type Error = Error;

    fn unit_variant(self) -> Result<(), Error> {
        if self.0.is_null() { Ok(()) } else { Err(not("a variant without content")) }
    }

    fn newtype_variant_seed<T: DeserializeSeed<'de>>(self, seed: T) -> Result<T::Value, Error> {
        seed.deserialize(self)
    }

    fn tuple_variant<V: Visitor<'de>>(self, _: usize, visitor: V) -> Result<V::Value, Error> {
        seq(self.0, visitor)
    }

    fn struct_variant<V: Visitor<'de>>(self, _: &'static [&'static str], visitor: V) -> Result<V::Value, Error> {
        map(self.0, visitor)
    }
}
