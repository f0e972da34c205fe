// First stage of the COLLADA reader: documents, what their addresses lead to, and their lists of numbers.
// Private to this library.
#pragma once

#include <map>
#include <memory>
#include <pugixml.hpp>
#include <unordered_map>

#include "formats/collada/collada.h"
#include "formats/collada/collada_lists.h"

namespace rakugo::formats::collada {

/// One parsed file.
struct Document {
  std::string path;       ///< as the first document names it; its own name for the first
  bool first = false;     ///< the file that was asked for
  base::Bytes own;        ///< the source of a document that was fetched
  base::ByteSpan source;  ///< where lines are counted
  CutText cut;            ///< what the tree points into
  pugi::xml_document xml;
  pugi::xml_node root;  ///< the COLLADA element
  std::unordered_map<std::string_view, pugi::xml_node> ids;
  /// The text of an element that may be a long list.
  [[nodiscard]] std::string_view listOf(pugi::xml_node node, std::string& storage) const;
};

/// An element and the document it stands in.
struct Element {
  const Document* document = nullptr;
  pugi::xml_node node;
  explicit operator bool() const { return static_cast<bool>(node); }
  [[nodiscard]] Element with(pugi::xml_node other) const { return {document, other}; }
  [[nodiscard]] Element child(const char* name) const { return {document, node.child(name)}; }
  [[nodiscard]] const char* text(const char* attribute) const { return node.attribute(attribute).value(); }
  bool operator<(const Element& other) const { return node.internal_object() < other.node.internal_object(); }
};

/// Numbers of a source as its accessor lays them out.
struct Numbers {
  std::shared_ptr<const std::vector<float>> values;
  size_t offset = 0, stride = 1, count = 0;
  std::vector<size_t> components;  ///< of the named parameters: their places in an element
  [[nodiscard]] float at(size_t i, size_t component) const {
    return component < components.size() ? (*values)[offset + i * stride + components[component]] : 0;
  }
};

/// All documents of one reading. Thread-safe but for `open`.
class Library {
 public:
  Library(const std::string& name, const Fetch& fetch, const ReadOptions& options);
  /// Parses the file itself.
  base::Status open(base::ByteSpan bytes);
  [[nodiscard]] const Document& first() const { return *first_; }
  [[nodiscard]] Element root() const { return {first_, first_->root}; }

  /// What "#id", "other.dae#id" or, from COLLADA 1.5's references, a bare id leads to; nothing when it leads
  /// nowhere, which is noted. Thread-safe for addresses in the documents that are open.
  base::Result<Element> follow(const Element& from, const std::string& url);
  /// The same within one document and without a note.
  [[nodiscard]] static Element find(const Document& document, std::string_view id);

  /// The numbers of a <source>. Errors: collada.source, collada.number.
  base::Result<Numbers> numbers(const Element& source);
  /// The same in two steps, the second of which takes the time: how the accessor lays them out, and the
  /// values, which must be as many as that promises.
  base::Result<Numbers> layout(const Element& source);
  base::Status fill(const Element& source, Numbers& numbers);
  /// The words of a source of names or ids.
  base::Result<std::vector<std::string>> words(const Element& source);

  [[nodiscard]] base::Error error(const char* code, const std::string& message, const Element& where,
                                  const std::string& cure = {}) const;
  void note(const char* code, const std::string& message, const Element& where);
  /// Counts memory that is about to be taken against what the files' sizes explain.
  base::Status take(uint64_t bytes, const Element& where);
  [[nodiscard]] bool cancelled() const {
    return options_.progress != nullptr && options_.progress->cancelled();
  }
  [[nodiscard]] const ReadOptions& options() const { return options_; }
  [[nodiscard]] const Fetch& fetch() const { return fetch_; }
  std::vector<base::Note> notes;

 private:
  static Element arrayOf(const Element& source, const Element& accessor);
  base::Result<Document*> load(base::ByteSpan bytes, const std::string& path, bool first);
  [[nodiscard]] base::Place placeOf(const Element& where) const;

  std::string name_;
  const Fetch& fetch_;
  const ReadOptions& options_;
  std::map<std::string, std::unique_ptr<Document>> documents_;
  Document* first_ = nullptr;
  std::mutex lock_, documents_lock_;
  std::unordered_map<const void*, std::shared_ptr<const std::vector<float>>> arrays_;
  std::atomic<uint64_t> taken_ = 0, file_bytes_ = 0;
};

/// The text of an element, wherever comments or character data split it.
std::string_view textOf(pugi::xml_node node, std::string& storage);
/// Words between white space.
std::vector<std::string> wordsOf(std::string_view text);
/// A path of the file, from a URI or from what careless programs write instead: decoded, with forward
/// slashes, without "file://" and "./". Of an absolute path its last step alone is left.
std::string pathOf(const std::string& uri);
/// The name for people: name, then id, then sid.
std::string nameOf(pugi::xml_node node);
/// Its first <technique_common>, or itself where exporters leave that out.
pugi::xml_node commonOf(pugi::xml_node node);

}  // namespace rakugo::formats::collada
