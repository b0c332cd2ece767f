//! A family card as a page for a browser.

use super::FamilyCard;
use crate::pdf::{Drawing, escaped};

/// A card as a page of its own: no script, nothing from elsewhere, read by a browser in any size. Its drawings are in it.
#[must_use]
pub fn html(card: &FamilyCard) -> String {
    let mut page = String::from(HEAD);
    page += &format!("<title>{}</title>\n</head>\n<body>\n<p>{}</p>\n", escaped(&card.heading), escaped(&card.heading));
    page += &format!(
        "<h1>{}</h1>\n<p>{}</p>\n<h2>{}</h2>\n",
        escaped(&card.name),
        escaped(&card.what),
        escaped(&card.show)
    );
    for thing in &card.things {
        page += &format!("<section>\n<h3>{}</h3>\n", escaped(&thing.name));
        if let Some(figure) = &thing.figure {
            let mut drawn = Drawing::new(HTML_DRAWING);
            drawn.figure((0.0, 0.0), HTML_DRAWING, figure);
            page += &format!("<div role=\"img\" aria-label=\"{}\">{}</div>\n", escaped(&thing.name), drawn.svg());
        }
        page += &format!("<p dir=\"auto\">{} {}</p>\n", escaped(&card.see), escaped(&thing.sign));
        if !thing.cue.is_empty() {
            page += &format!("<p><strong>“{}”</strong></p>\n", escaped(&thing.cue));
        }
        page += "</section>\n";
    }
    page += &format!("<h2>{}</h2>\n<table>\n<tr><td></td>", escaped(&card.week));
    page.extend(card.days.iter().map(|day| format!("<th scope=\"col\">{}</th>", escaped(day))));
    page += "</tr>\n";
    for row in &card.rows {
        let boxes = row.minutes.iter().map(|minutes| match minutes {
            Some(minutes) => format!("<td>☐ {minutes} min</td>"),
            None => "<td></td>".to_owned(),
        });
        page += &format!("<tr><th scope=\"row\">{}</th>{}</tr>\n", escaped(&row.text), boxes.collect::<String>());
    }
    page += "</table>\n";
    page.extend(card.foot.iter().map(|text| format!("<p dir=\"auto\">{}</p>\n", escaped(text))));
    page + "</body>\n</html>\n"
}

/// Width and height of a drawing on the page, in millimetres.
const HTML_DRAWING: (f64, f64) = (60.0, 45.0);
/// What every page begins with: only the browser's own letters, nothing that is fetched.
const HEAD: &str = "<!doctype html>
<html lang=\"en\">
<head>
<meta charset=\"utf-8\">
<meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">
<style>
body { font: 1.1rem/1.4 sans-serif; max-width: 40rem; margin: 1rem auto; padding: 0 1rem; color: #000; background: #fff }
section { break-inside: avoid; border-top: 1px solid #999 }
svg { max-width: 100%; height: auto }
table { border-collapse: collapse; width: 100% }
th, td { border-top: 1px solid #999; padding: 0.3rem; text-align: left; font-weight: normal }
</style>
";

#[cfg(test)]
mod tests {
    use super::super::tests::card;
    use super::*;

    #[test]
    fn a_page_says_what_the_card_says_and_fetches_nothing() {
        let page = html(&card(2, 5, 3));
        assert_eq!((page.matches("<svg ").count(), page.matches("☐ 2 min").count()), (4, 15));
        assert!(page.contains("Sore tips pass.") && page.contains("You see: The thumb makes a bump."));
        assert!(
            !page.contains("<thumb>") && !page.contains("<script") && !page.contains("href") && !page.contains("src=")
        );
    }
}
