#include "packing/ledger.h"

#include "base/files.h"
#include "base/json.h"
#include "base/phrase.h"

namespace rakugo::packing {
namespace fs = std::filesystem;

using base::Json;

fs::path oursIn(const fs::path& mods) { return mods / ".rakugo"; }

base::Result<Ledger> parseLedger(std::string_view text, const std::string& file) {
  RAKUGO_ASSIGN(const Json json, base::parseJson(text, file));
  std::vector<base::Error> complaints;
  base::JsonFields in(json, file, "", complaints);
  // A name, never a way to another folder: what it names is copied and removed.
  const auto plain = [](const std::string& name) {
    return name.find('/') == std::string::npos && base::isInnerPath(name);
  };
  Ledger out;
  for (base::JsonFields& one : in.objects("installed")) {
    const std::string name = one.requiredText("file");
    const LedgerEntry entry{one.text("mod"), one.requiredText("sha256"), one.text("kept"),
                            one.text("before")};
    if (!plain(name)) one.complain("install.ledger", base::phrase("The file is no name of a file."), "file");
    if (!entry.kept.empty() && !plain(entry.kept))
      one.complain("install.ledger", base::phrase("What is kept is no name of a file."), "kept");
    out[name] = entry;
  }
  if (!complaints.empty()) return complaints.front();
  return out;
}

std::string ledgerText(const Ledger& ledger) {
  Json list = Json::array();
  for (const auto& [file, e] : ledger) {
    Json one{{"file", file}, {"mod", e.mod}, {"sha256", e.sha256}};
    if (!e.kept.empty()) one["kept"] = e.kept;
    if (!e.before.empty()) one["before"] = e.before;
    list.push_back(std::move(one));
  }
  return base::jsonText(Json{{"format", 1}, {"installed", std::move(list)}});
}

base::Result<Ledger> readLedger(const fs::path& mods) {
  const fs::path path = oursIn(mods) / "ledger.json";
  const auto bytes = base::readFile(path, 16 << 20);
  if (!bytes) {
    if (bytes.error().code == "file.missing") return Ledger();
    return bytes.error();
  }
  auto ledger = parseLedger(base::asText(*bytes), path.string());
  if (ledger) return ledger;
  return base::Error{
      "install.ledger",
      base::phrase("The list of what Rakugo installed is damaged: {0}", ledger.error().message),
      base::Place{path.string(), ledger.error().place.path},
      base::phrase("Remove that file; what is installed then counts as another's.")};
}

base::Status writeLedger(const fs::path& mods, const Ledger& ledger) {
  RAKUGO_TRY(base::makeFolder(oursIn(mods)));
  return base::writeFileAtomic(oursIn(mods) / "ledger.json", ledgerText(ledger));
}

}  // namespace rakugo::packing
