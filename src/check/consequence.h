// What the game does where a rule is broken, as the rulebook says it; severity and words follow from that.
#pragma once

#include "check/context.h"

namespace rakugo::check {

/// The severity that goes with what the game does.
Severity severityOf(rulebook::Outcome outcome);
/// A sentence for people: "Kelpwick does not load this object."
std::string outcomeText(rulebook::Outcome outcome, const rulebook::Rulebook& book);

/// A rulebook's reason may leave the word for the thing open: "Kelpwick sets a {kind} down on its origin".
/// The reason with the kind's title in lower case in that place; "thing" where the kind is null.
std::string reasonFor(std::string reason, const rulebook::Kind* kind);

/// Gives a finding of that row the severity and the reason that the rulebook's outcome asks for: the gravest
/// over the kinds of the objects that it is about. Where the rulebook says nothing, both stay. What is wrong
/// with a model or a source that no object uses never stops the game: it is not shipped. A finding whose
/// outcome comes to be `meant` is none.
void settle(const Context& context, const CheckRow& row, Finding& finding);

}  // namespace rakugo::check
