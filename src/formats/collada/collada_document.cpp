#include "formats/collada/collada_document.h"

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <limits>

#include "base/phrase.h"
#include "base/text.h"
#include "formats/gltf/gltf_parse.h"
#include "formats/text/numbers.h"
#include "formats/text/text_encoding.h"

namespace rakugo::formats {

bool looksLikeCollada(base::ByteSpan bytes) {
  std::string storage;
  const auto text = asUtf8(bytes.first(std::min<size_t>(bytes.size() & ~size_t{1}, 4096)), storage);
  if (!text) return false;
  const size_t at = text->find_first_not_of(" \t\r\n");
  if (at == std::string_view::npos || (*text)[at] != '<') return false;
  return text->find("<COLLADA") != std::string_view::npos;
}

std::string colladaRootOf(base::ByteSpan manifest) {
  pugi::xml_document xml;
  if (!xml.load_buffer(manifest.data(), manifest.size())) return {};
  const std::string uri = xml.child("dae_root").text().as_string();
  return collada::pathOf(uri.substr(0, uri.find('#')));
}

namespace collada {
namespace {

constexpr size_t kMostDocuments = 64;
bool isBlank(char c) { return c == ' ' || c == '\n' || c == '\r' || c == '\t'; }

}  // namespace

std::string_view textOf(pugi::xml_node node, std::string& storage) {
  const pugi::xml_node first = node.first_child();
  const auto isText = [](pugi::xml_node n) {
    return n.type() == pugi::node_pcdata || n.type() == pugi::node_cdata;
  };
  if (!first) return {};
  if (isText(first) && !first.next_sibling()) return first.value();
  storage.clear();
  for (pugi::xml_node n = first; n; n = n.next_sibling())
    if (isText(n)) storage += n.value();
  return storage;
}

std::string_view Document::listOf(pugi::xml_node node, std::string& storage) const {
  return cut.listOf(textOf(node, storage));
}

std::vector<std::string> wordsOf(std::string_view text) {
  std::vector<std::string> out;
  size_t at = 0;
  while (at < text.size()) {
    while (at < text.size() && isBlank(text[at])) ++at;
    size_t end = at;
    while (end < text.size() && !isBlank(text[end])) ++end;
    if (end > at) out.emplace_back(text.substr(at, end - at));
    at = end;
  }
  return out;
}

std::string pathOf(const std::string& uri) {
  std::string path = gltf::percentDecoded(uri);
  const size_t begin = path.find_first_not_of(" \t\r\n");
  if (begin == std::string::npos) return {};
  path = path.substr(begin, path.find_last_not_of(" \t\r\n") - begin + 1);
  std::replace(path.begin(), path.end(), '\\', '/');
  const bool absolute = path.rfind("file:", 0) == 0 || path.front() == '/' ||
                        (path.size() > 2 && path[1] == ':' && path[2] == '/');
  if (path.rfind("file:", 0) == 0) path.erase(0, 5);
  while (path.rfind("./", 0) == 0) path.erase(0, 2);
  if (absolute) {
    const size_t slash = path.rfind('/');
    if (slash != std::string::npos) path.erase(0, slash + 1);
  }
  return path;
}

std::string nameOf(pugi::xml_node node) {
  for (const char* key : {"name", "id", "sid"})
    if (const pugi::xml_attribute a = node.attribute(key); a && *a.value() != '\0')
      return base::presentable(a.value());
  return {};
}

pugi::xml_node commonOf(pugi::xml_node node) {
  const pugi::xml_node common = node.child("technique_common");
  return common ? common : node;
}

Library::Library(const std::string& name, const Fetch& fetch, const ReadOptions& options)
    : name_(name), fetch_(fetch), options_(options) {}

base::Place Library::placeOf(const Element& where) const {
  base::Place place{where.document != nullptr ? where.document->path : name_};
  if (!where) return place;
  std::vector<pugi::xml_node> steps;
  for (pugi::xml_node n = where.node; n && n.type() == pugi::node_element; n = n.parent()) steps.push_back(n);
  for (auto n = steps.rbegin(); n != steps.rend(); ++n) {
    place.path += std::string("/") + n->name();
    if (const pugi::xml_attribute id = n->attribute("id"))
      place.path += " \"" + base::presentable(id.value(), 60) + "\"";
  }
  place.path = base::presentable(place.path, 300);
  if (where.document != nullptr && where.document->first) {
    const size_t at = where.document->cut.sourceOffset(
        static_cast<size_t>(std::max<ptrdiff_t>(where.node.offset_debug(), 0)));
    const std::string_view text = base::asText(where.document->source);
    place.line =
        1 + static_cast<int>(std::count(
                text.begin(), text.begin() + static_cast<ptrdiff_t>(std::min(at, text.size())), '\n'));
  }
  return place;
}

base::Error Library::error(const char* code, const std::string& message, const Element& where,
                           const std::string& cure) const {
  return {code, message, placeOf(where),
          cure.empty() ? base::phrase("Export the model again; this file does not follow COLLADA.") : cure};
}

void Library::note(const char* code, const std::string& message, const Element& where) {
  const std::lock_guard guard(lock_);
  if (notes.size() < 200) notes.push_back({code, message, placeOf(where)});
}

base::Status Library::take(uint64_t bytes, const Element& where) {
  const uint64_t most = (16ull << 20) + file_bytes_ * options_.limits.memory_per_byte;
  if (bytes > most || (taken_ += bytes) > most)
    return error("collada.too_large",
                 base::phrase("The file would take far more memory than its size explains."), where);
  return {};
}

base::Result<Document*> Library::load(base::ByteSpan bytes, const std::string& path, bool first) {
  auto document = std::make_unique<Document>();
  document->path = path;
  document->first = first;
  if (first) {
    document->source = bytes;
  } else {
    document->own.assign(bytes.begin(), bytes.end());
    document->source = document->own;
  }
  document->cut = cutLists(document->source);
  file_bytes_ += bytes.size();
  // Document types are skipped, never read: no entity but XML's own five is known.
  const pugi::xml_parse_result parsed = document->xml.load_buffer_inplace(
      document->cut.text.data(), document->cut.text.size(),
      pugi::parse_cdata | pugi::parse_escapes | pugi::parse_wconv_attribute);
  if (!parsed) {
    base::Place place{path};
    const size_t offset =
        document->cut.sourceOffset(static_cast<size_t>(std::max<ptrdiff_t>(parsed.offset, 0)));
    place.offset = static_cast<int64_t>(offset);
    if (first) {
      const std::string_view text = base::asText(bytes);
      const auto end = std::min<size_t>(offset, text.size());
      place.line =
          1 + static_cast<int>(std::count(text.begin(), text.begin() + static_cast<ptrdiff_t>(end), '\n'));
    }
    return base::Error{
        "collada.syntax",
        base::phrase("The XML is not well formed: {0}.", base::lowerAscii(parsed.description())), place,
        base::phrase("The file is cut off or damaged; export or download it again.")};
  }
  document->root = document->xml.document_element();
  if (std::string_view(document->root.name()) != "COLLADA")
    return base::Error{"collada.syntax", base::phrase("The first element is not COLLADA."), base::Place{path},
                       base::phrase("Export the model as COLLADA, glTF 2.0 or OBJ.")};
  // A walk without recursion: the depth is the file's.
  int depth = 0;
  for (pugi::xml_node n = document->root; n;) {
    if (const pugi::xml_attribute id = n.attribute("id")) document->ids.emplace(id.value(), n);
    if (const pugi::xml_node child = n.first_child()) {
      if (++depth > options_.limits.node_depth * 2)
        return base::Error{"collada.tree", base::phrase("The elements are nested too deep."),
                           base::Place{path}, ""};
      n = child;
      continue;
    }
    while (n && n != document->root && !n.next_sibling()) n = n.parent(), --depth;
    if (n == document->root) break;
    n = n.next_sibling();
  }
  Document* out = document.get();
  documents_[path] = std::move(document);
  return out;
}

base::Status Library::open(base::ByteSpan bytes) {
  RAKUGO_ASSIGN(first_, load(bytes, name_, true));
  const std::string version = first_->root.attribute("version").value();
  if (version.rfind("1.4", 0) != 0 && version.rfind("1.5", 0) != 0)
    return error("collada.version",
                 version.empty() ? base::phrase("The file does not say which COLLADA version it is.")
                                 : base::phrase("This is COLLADA {0}; Rakugo reads 1.4 and 1.5.",
                                                base::presentable(version, 16)),
                 root(), base::phrase("Export the model as COLLADA 1.4.1 or as glTF 2.0."));
  return {};
}

Element Library::find(const Document& document, std::string_view id) {
  const auto at = document.ids.find(id);
  return at == document.ids.end() ? Element{&document, {}} : Element{&document, at->second};
}

base::Result<Element> Library::follow(const Element& from, const std::string& url) {
  const size_t hash = url.find('#');
  const std::string file = hash == std::string::npos ? std::string() : url.substr(0, hash);
  const std::string id = gltf::percentDecoded(hash == std::string::npos ? url : url.substr(hash + 1));
  const Document* document = from.document;
  if (!file.empty()) {
    const std::lock_guard guard(documents_lock_);
    const std::string path = pathOf(file);
    const auto known = documents_.find(path);
    if (known != documents_.end()) {
      document = known->second.get();
    } else {
      if (documents_.size() >= kMostDocuments)
        return error("collada.too_large",
                     base::phrase("The file refers to more documents than Rakugo follows."), from);
      auto bytes = fetch_(path);
      if (!bytes) {
        note("collada.document_missing",
             base::phrase("The document \"{0}\" is not there: {1}", base::presentable(path, 80),
                          bytes.error().message),
             from);
        return Element{};
      }
      RAKUGO_ASSIGN(document, load(*bytes, path, false));
    }
  }
  Element found = find(*document, id);
  if (!found)
    note("collada.reference",
         base::phrase("\"{0}\" leads nowhere and is left out.", base::presentable(url, 80)), from);
  return found;
}

// The list of a source; the accessor may name one elsewhere.
Element Library::arrayOf(const Element& source, const Element& accessor) {
  Element array = source.child("float_array");
  for (const char* other : {"int_array", "bool_array"})
    if (!array) array = source.child(other);
  if (!accessor) return array;
  const std::string url = accessor.text("source");
  const Element named = find(*source.document, url.empty() ? url : url.substr(url[0] == '#' ? 1 : 0));
  return named ? named : array;
}

base::Result<Numbers> Library::layout(const Element& source) {
  const Element accessor = source.with(commonOf(source.node).child("accessor"));
  if (!arrayOf(source, accessor))
    return error("collada.source", base::phrase("The source holds no list of numbers."), source);
  Numbers out;
  if (!accessor) {
    // Nothing but the list itself says how many there are.
    RAKUGO_TRY(fill(source, out));
    out.count = out.values->size();
    out.components = {0};
    return out;
  }
  const auto whole = [&](const char* key, uint64_t fallback) {
    const pugi::xml_attribute a = accessor.node.attribute(key);
    return a ? static_cast<uint64_t>(a.as_ullong(fallback)) : fallback;
  };
  out.offset = whole("offset", 0);
  out.stride = whole("stride", 1);
  out.count = whole("count", 0);
  size_t place = 0;
  for (pugi::xml_node param = accessor.node.child("param"); param;
       param = param.next_sibling("param"), ++place) {
    const std::string_view type = param.attribute("type").value();
    const size_t width = type == "float4x4" ? 16 : 1;
    // A parameter without a name is skipped (1.4.1, section 5.3, accessor).
    if (!param.attribute("name") && width == 1) continue;
    for (size_t i = 0; i < width; ++i) out.components.push_back(place + i);
  }
  if (out.components.empty())
    for (size_t i = 0; i < std::min<uint64_t>(std::max<uint64_t>(out.stride, 1), 16); ++i)
      out.components.push_back(i);
  return out;
}

base::Status Library::fill(const Element& source, Numbers& out) {
  if (out.values) return {};
  const Element accessor = source.with(commonOf(source.node).child("accessor"));
  const Element array = arrayOf(source, accessor);
  {
    const std::lock_guard guard(lock_);
    out.values = arrays_[array.node.internal_object()];
  }
  if (!out.values) {
    std::string storage;
    const std::string_view text = array.document->listOf(array.node, storage);
    auto values = std::make_shared<std::vector<float>>();
    size_t bad = 0;
    if (!readFloats(text, *values, bad))
      return error("collada.number",
                   base::phrase("\"{0}\" is no number.", base::presentable(text.substr(bad, 24), 24)), array);
    const std::lock_guard guard(lock_);
    out.values = arrays_[array.node.internal_object()] = std::move(values);
  }
  if (!accessor) return {};
  const size_t last = out.components.back() + 1;
  const uint64_t size = out.values->size();
  if (out.stride == 0 || out.stride < last || out.offset > size)
    return error("collada.source",
                 base::phrase("The accessor's stride or offset does not fit its parameters."), accessor);
  if (out.count > 0 &&
      (size - out.offset < last || (out.count - 1) > (size - out.offset - last) / out.stride))
    return error(
        "collada.source",
        base::phrase("The accessor promises {0} elements and its array holds {1} numbers.", out.count, size),
        accessor);
  return {};
}

base::Result<Numbers> Library::numbers(const Element& source) {
  RAKUGO_ASSIGN(Numbers out, layout(source));
  RAKUGO_TRY(fill(source, out));
  return out;
}

base::Result<std::vector<std::string>> Library::words(const Element& source) {
  for (const char* kind : {"Name_array", "IDREF_array", "SIDREF_array"})
    if (const pugi::xml_node array = source.node.child(kind)) {
      std::string storage;
      return wordsOf(textOf(array, storage));
    }
  return error("collada.source", base::phrase("The source holds no list of names."), source);
}

}  // namespace collada
}  // namespace rakugo::formats
