//! Reading one TOML table key by key, collecting what is wrong instead of stopping at it.

use std::cell::RefCell;
use std::collections::BTreeSet;
use std::ops::Range;

use toml::Spanned;
use toml::de::{DeTable, DeValue};

use super::fault::{At, Fault, Source};
use crate::figure::Setting;

/// A file being read, with the faults found in it.
pub(super) struct File<'a> {
    source: Source<'a>,
    faults: RefCell<Vec<Fault>>,
}

impl<'a> File<'a> {
    pub(super) fn new(source: Source<'a>) -> Self {
        Self { source, faults: RefCell::default() }
    }

    /// The whole file as a table; syntax faults are noted and what could be read goes on.
    pub(super) fn parse(&self) -> Spanned<DeTable<'a>> {
        let (table, errors) = DeTable::parse_recoverable(self.source.text);
        for error in errors {
            self.fault(error.span().unwrap_or(0..0), format!("this is not TOML: {}", error.message()));
        }
        table
    }

    pub(super) fn root<'t>(&'t self, table: &'t Spanned<DeTable<'a>>) -> Entry<'t, 'a> {
        Entry { file: self, table: table.get_ref(), span: 0..0, read: RefCell::default() }
    }

    pub(super) fn into_faults(self) -> Vec<Fault> {
        self.faults.into_inner()
    }

    fn fault(&self, span: Range<usize>, message: String) {
        let at = self.at(span, ());
        self.faults.borrow_mut().push(at.fault(message));
    }

    fn at<T>(&self, span: Range<usize>, value: T) -> At<T> {
        let before = self.source.text.get(..span.start).unwrap_or(self.source.text);
        let line = before.matches('\n').count() + 1;
        At { file: self.source.path.to_owned(), line, value }
    }
}

/// A table and the keys that were asked for; [`Entry::finish`] names those nobody asked for.
pub(super) struct Entry<'t, 'a> {
    file: &'t File<'a>,
    table: &'t DeTable<'a>,
    span: Range<usize>,
    read: RefCell<BTreeSet<&'static str>>,
}

impl<'t, 'a> Entry<'t, 'a> {
    /// Where the table begins.
    pub(super) fn here<T>(&self, value: T) -> At<T> {
        self.file.at(self.span.clone(), value)
    }

    /// The keys of the table with their places, for tables whose keys are data; counts as reading them all.
    pub(super) fn keys(&self) -> Vec<(At<String>, &'t Spanned<DeValue<'a>>)> {
        self.table.iter().map(|(key, value)| (self.file.at(key.span(), key.get_ref().to_string()), value)).collect()
    }

    pub(super) fn text(&self, key: &'static str) -> Option<At<String>> {
        let found = self.text_if_any(key);
        if found.is_none() && !self.table.contains_key(key) {
            self.file.fault(self.span.clone(), format!("`{key}` is missing"));
        }
        found
    }

    pub(super) fn text_if_any(&self, key: &'static str) -> Option<At<String>> {
        self.take(key, "a text", |value| value.as_str().map(str::to_owned))
    }

    pub(super) fn flag(&self, key: &'static str) -> bool {
        self.take(key, "true or false", DeValue::as_bool).is_some_and(|at| at.value)
    }

    pub(super) fn whole_number_if_any(&self, key: &'static str) -> Option<At<u32>> {
        self.take(key, "a whole number from 0", |value| {
            value.as_integer().and_then(|number| u32::from_str_radix(number.as_str(), number.radix()).ok())
        })
    }

    pub(super) fn whole_number(&self, key: &'static str) -> Option<At<u32>> {
        let found = self.whole_number_if_any(key);
        if found.is_none() && !self.table.contains_key(key) {
            self.file.fault(self.span.clone(), format!("`{key}` is missing"));
        }
        found
    }

    /// The seconds a look takes; where they cannot be read the fault is noted and reading goes on with one second, so
    /// that what stands beside them is checked too.
    pub(super) fn seconds(&self) -> At<u32> {
        self.whole_number("seconds").unwrap_or_else(|| self.here(1))
    }

    pub(super) fn number(&self, key: &'static str) -> Option<At<f64>> {
        self.take(key, "a number", |value| match value {
            DeValue::Integer(number) => number.as_str().parse().ok(),
            DeValue::Float(number) => number.as_str().parse().ok(),
            _ => None,
        })
    }

    pub(super) fn texts(&self, key: &'static str) -> Vec<At<String>> {
        self.items(key)
            .iter()
            .filter_map(|item| {
                let text = item.get_ref().as_str();
                if text.is_none() {
                    self.file.fault(item.span(), format!("every part of `{key}` is a text"));
                }
                text.map(|text| self.file.at(item.span(), text.to_owned()))
            })
            .collect()
    }

    pub(super) fn tables(&self, key: &'static str) -> Vec<Entry<'t, 'a>> {
        self.items(key).iter().filter_map(|item| self.entry(item, key)).collect()
    }

    pub(super) fn table(&self, key: &'static str) -> Option<Entry<'t, 'a>> {
        self.read.borrow_mut().insert(key);
        self.table.get(key).and_then(|value| self.entry(value, key))
    }

    /// A value as a table of its own, or a fault.
    pub(super) fn entry(&self, value: &'t Spanned<DeValue<'a>>, key: &str) -> Option<Entry<'t, 'a>> {
        let table = value.get_ref().as_table();
        if table.is_none() {
            self.file.fault(value.span(), format!("`{key}` is a table"));
        }
        table.map(|table| Entry { file: self.file, table, span: value.span(), read: RefCell::default() })
    }

    /// Notes every key that nobody asked for.
    pub(super) fn finish(self) {
        for key in self.table.keys() {
            if !self.read.borrow().contains(key.get_ref().as_ref()) {
                self.file.fault(key.span(), format!("`{}` is not a key known here", key.get_ref()));
            }
        }
    }

    /// A value of a table whose keys are data, as a text.
    pub(super) fn as_text(&self, value: &'t Spanned<DeValue<'a>>, key: &str) -> Option<At<String>> {
        self.as_kind(value, key, "texts", |value| value.as_str().map(str::to_owned))
    }

    /// A value of a table whose keys are data, as a whole number.
    pub(super) fn as_whole_number(&self, value: &'t Spanned<DeValue<'a>>, key: &str) -> Option<At<u32>> {
        self.as_kind(value, key, "whole numbers", |value| {
            value.as_integer().and_then(|number| u32::from_str_radix(number.as_str(), number.radix()).ok())
        })
    }

    /// A value of a table whose keys are data, as what a number of a drawing is set to.
    pub(super) fn as_setting(&self, value: &'t Spanned<DeValue<'a>>, key: &str) -> Option<At<Setting>> {
        self.as_kind(value, key, "numbers or words", |value| match value {
            DeValue::Integer(number) => number.as_str().parse().ok().map(Setting::Number),
            DeValue::Float(number) => number.as_str().parse().ok().map(Setting::Number),
            DeValue::String(word) => Some(Setting::Word(word.to_string())),
            _ => None,
        })
    }

    fn as_kind<T>(
        &self,
        value: &'t Spanned<DeValue<'a>>,
        key: &str,
        kind: &str,
        read: impl Fn(&DeValue<'a>) -> Option<T>,
    ) -> Option<At<T>> {
        let found = read(value.get_ref());
        if found.is_none() {
            self.file.fault(value.span(), format!("the values of `{key}` are {kind}"));
        }
        found.map(|found| self.file.at(value.span(), found))
    }

    fn items(&self, key: &'static str) -> &'t [Spanned<DeValue<'a>>] {
        self.read.borrow_mut().insert(key);
        let Some(value) = self.table.get(key) else { return &[] };
        let Some(array) = value.get_ref().as_array() else {
            self.file.fault(value.span(), format!("`{key}` is a list"));
            return &[];
        };
        array
    }

    fn take<T>(&self, key: &'static str, kind: &str, read: impl Fn(&DeValue<'a>) -> Option<T>) -> Option<At<T>> {
        self.read.borrow_mut().insert(key);
        let value = self.table.get(key)?;
        let found = read(value.get_ref());
        if found.is_none() {
            self.file.fault(value.span(), format!("`{key}` is {kind}"));
        }
        found.map(|found| self.file.at(value.span(), found))
    }
}
