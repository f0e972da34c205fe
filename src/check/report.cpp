#include "check/report.h"

#include <map>
#include <pugixml.hpp>
#include <sstream>

#include "base/json.h"
#include "base/text.h"

namespace rakugo::check {
namespace {

using base::Json;

// The file a finding speaks of, relative to the mod's folder; a place inside a document is cut off.
std::string documentOf(const Finding& f) {
  const std::string& all = f.place.document.empty() ? "mod.json" : f.place.document;
  const size_t space = all.find(' ');
  return space == std::string::npos ? all : all.substr(0, space);
}

// RFC 3986, section 2.3: what need not be escaped in a path.
std::string uriPath(const std::string& path) {
  static constexpr char kDigits[] = "0123456789ABCDEF";
  std::string out;
  for (const char c : path) {
    const auto byte = static_cast<unsigned char>(c);
    const bool plain = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') ||
                       c == '-' || c == '.' || c == '_' || c == '~' || c == '/';
    if (plain) {
      out += c;
    } else {
      out += '%';
      out += kDigits[byte >> 4];
      out += kDigits[byte & 15];
    }
  }
  return out;
}

}  // namespace

std::string reportText(const Examination& x) {
  std::string out;
  size_t aside = 0;
  for (const Finding& f : x.findings) {
    if (f.caused_by) continue;  // said with its cause
    std::string word = f.set_aside ? "aside" : severityName(f.severity);
    word.resize(5, ' ');
    out += word + "  " + f.sentence + "  [" + f.place.text() + "]\n";
    if (f.set_aside) {
      ++aside;
      out += "       set aside: " + f.aside_reason + "\n";
    } else if (!f.mends.empty()) {
      out += "       cure: " + f.mends.front().label + "\n";
    } else if (!f.cure.empty()) {
      out += "       what to do: " + f.cure + "\n";
    }
    if (f.causes > 0) {
      out += "       " + base::countText(f.causes, "other goes", "others go") + " with it:\n";
      for (const Finding& effect : x.findings)
        if (effect.caused_by && &x.findings[*effect.caused_by] == &f)
          out += "         " + effect.sentence + "\n";
    }
  }
  out += std::to_string(x.count(Severity::stops)) + " stop, " + std::to_string(x.count(Severity::shows)) +
         " show, " + std::to_string(x.count(Severity::tidy)) + " to tidy";
  if (aside > 0) out += ", " + std::to_string(aside) + " set aside";
  return out + "\n";
}

Json reportJson(const Examination& x) {
  Json out{{"mod", x.mod->card.id}, {"rulebook", x.book->id}, {"findings", Json::array()}};
  for (size_t i = 0; i < x.findings.size(); ++i) {
    const Finding& f = x.findings[i];
    Json one{{"check", f.check},       {"severity", severityName(f.severity)},
             {"sentence", f.sentence}, {"measured", f.measured},
             {"expected", f.expected}, {"reason", f.reason},
             {"cure", f.cure}};
    if (f.outcome) one["outcome"] = rulebook::outcomeName(*f.outcome);
    // By their places in this list.
    if (f.caused_by) one["caused_by"] = *f.caused_by;
    if (f.causes > 0) {
      one["causes"] = Json::array();
      for (size_t k = 0; k < x.findings.size(); ++k)
        if (x.findings[k].caused_by == i) one["causes"].push_back(k);
    }
    Json place{{"document", f.place.document}};
    const auto add = [&](const char* key, const std::string& value) {
      if (!value.empty()) place[key] = value;
    };
    add("object", f.place.object);
    add("model", f.place.model);
    add("source", f.place.source);
    add("part", f.place.part);
    add("material", f.place.material);
    add("field", f.place.field);
    add("point", f.place.point);
    add("step", f.place.step);
    one["place"] = std::move(place);
    one["mends"] = Json::array();
    for (const Mend& m : f.mends) one["mends"].push_back(m.label);
    if (f.set_aside) one["set_aside"] = f.aside_reason;
    out["findings"].push_back(std::move(one));
  }
  return out;
}

Json reportSarif(const Examination& x, const std::string& version) {
  static constexpr const char* kLevels[] = {"error", "warning", "note"};
  Json rules = Json::array();
  std::map<std::string, size_t> index;
  for (const CheckRow& row : checkTable()) {
    index[row.id] = rules.size();
    rules.push_back(Json{{"id", row.id},
                         {"shortDescription", {{"text", row.title}}},
                         {"fullDescription", {{"text", row.reason}}},
                         {"help", {{"text", row.cure}}},
                         {"defaultConfiguration", {{"level", kLevels[static_cast<size_t>(row.severity)]}}}});
  }
  Json results = Json::array();
  for (const Finding& f : x.findings) {
    std::string message = f.sentence;
    if (!f.mends.empty())
      message += " Cure: " + f.mends.front().label + ".";
    else if (!f.cure.empty())
      message += " What to do: " + f.cure;
    Json location{{"physicalLocation",
                   {{"artifactLocation", {{"uri", uriPath(documentOf(f))}, {"uriBaseId", "MOD"}}}}}};
    location["logicalLocations"] = Json::array({Json{{"fullyQualifiedName", f.place.text()}}});
    Json one{{"ruleId", f.check},
             {"ruleIndex", index.at(f.check)},
             {"level", kLevels[static_cast<size_t>(f.severity)]},
             {"message", {{"text", std::move(message)}}},
             {"locations", Json::array({std::move(location)})},
             {"partialFingerprints", {{"place/v1", placeKey(f.place)}}}};
    // SARIF 2.1.0, section 3.8: a property bag for what the standard has no word for; indices of results.
    if (f.caused_by) one["properties"] = Json{{"causedByResultIndex", *f.caused_by}};
    if (f.set_aside)
      one["suppressions"] = Json::array({Json{{"kind", "external"}, {"justification", f.aside_reason}}});
    results.push_back(std::move(one));
  }
  return Json{
      {"$schema", "https://docs.oasis-open.org/sarif/sarif/v2.1.0/os/schemas/sarif-schema-2.1.0.json"},
      {"version", "2.1.0"},
      {"runs",
       Json::array({Json{
           {"tool",
            {{"driver", {{"name", "Rakugo"}, {"semanticVersion", version}, {"rules", std::move(rules)}}}}},
           {"columnKind", "unicodeCodePoints"},
           {"results", std::move(results)}}})}};
}

std::string reportJUnit(const Examination& x) {
  std::map<std::string, std::vector<const Finding*>> by_check;
  for (const Finding& f : x.findings) by_check[f.check].push_back(&f);
  pugi::xml_document document;
  pugi::xml_node suites = document.append_child("testsuites"), suite = suites.append_child("testsuite");
  size_t failures = 0;
  for (const CheckRow& row : checkTable()) {
    pugi::xml_node one = suite.append_child("testcase");
    one.append_attribute("name") = row.title;
    one.append_attribute("classname") = (base::slug(x.mod->card.id) + "." + row.id).c_str();
    one.append_attribute("time") = "0";
    std::string failed, said;
    for (const Finding* f : by_check[row.id]) {
      std::string line = f->sentence + " [" + f->place.text() + "]";
      if (f->caused_by) line += " (goes with: " + x.findings[*f->caused_by].sentence + ")";
      if (f->set_aside)
        said += line + " set aside: " + f->aside_reason + "\n";
      else if (f->severity == Severity::tidy)
        said += line + "\n";
      else
        failed += line + "\n";
    }
    if (!failed.empty()) {
      ++failures;
      pugi::xml_node failure = one.append_child("failure");
      failure.append_attribute("message") = failed.substr(0, failed.find('\n')).c_str();
      failure.append_attribute("type") = severityName(row.severity);
      failure.text().set((failed + row.reason + "\n" + row.cure).c_str());
    }
    if (!said.empty()) one.append_child("system-out").text().set(said.c_str());
  }
  const std::string name = base::presentable(x.mod->card.title), tests = std::to_string(checkTable().size()),
                    count = std::to_string(failures);
  for (pugi::xml_node node : {suites, suite}) {
    node.append_attribute("name") = name.c_str();
    node.append_attribute("tests") = tests.c_str();
    node.append_attribute("failures") = count.c_str();
    node.append_attribute("errors") = "0";
    node.append_attribute("time") = "0";
  }
  suite.append_attribute("skipped") = "0";
  std::ostringstream out;
  document.save(out, "  ", pugi::format_default, pugi::encoding_utf8);
  return out.str();
}

}  // namespace rakugo::check
