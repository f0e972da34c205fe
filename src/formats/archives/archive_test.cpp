// Archives as sites hand them out. Those that are no zip were packed by tar and 7z's own libraries, here by
// libarchive.
#include "formats/archives/archive.h"

#include <archive.h>
#include <archive_entry.h>
#include <gmock/gmock.h>
#include <gtest/gtest.h>

#include <random>

#include "formats/archives/zip.h"

namespace rakugo::formats {
namespace {

using Files = std::map<std::string, base::Bytes>;
using testing::ElementsAre;
using testing::HasSubstr;

base::Bytes bytes(std::string_view text) {
  const auto span = base::asBytes(text);
  return {span.begin(), span.end()};
}

la_ssize_t append(archive*, void* out, const void* data, size_t size) {
  const auto* from = static_cast<const std::byte*>(data);
  static_cast<base::Bytes*>(out)->insert(static_cast<base::Bytes*>(out)->end(), from, from + size);
  return static_cast<la_ssize_t>(size);
}

enum class Sort { tar, tar_gz, tar_xz, tar_zst, seven };
base::Bytes pack(const Files& files, Sort sort, const char* link = nullptr) {
  base::Bytes out;
  archive* a = archive_write_new();
  if (sort == Sort::seven)
    archive_write_set_format_7zip(a);
  else
    archive_write_set_format_pax_restricted(a);
  if (sort == Sort::tar_gz) archive_write_add_filter_gzip(a);
  if (sort == Sort::tar_xz) archive_write_add_filter_xz(a);
  if (sort == Sort::tar_zst) archive_write_add_filter_zstd(a);
  archive_write_set_bytes_in_last_block(a, 1);
  archive_write_open(a, &out, nullptr, append, nullptr);
  for (const auto& [path, content] : files) {
    archive_entry* entry = archive_entry_new();
    archive_entry_set_pathname(entry, path.c_str());
    archive_entry_set_filetype(entry, link != nullptr ? AE_IFLNK : AE_IFREG);
    if (link != nullptr) archive_entry_set_symlink(entry, link);
    archive_entry_set_size(entry, link != nullptr ? 0 : static_cast<la_int64_t>(content.size()));
    archive_entry_set_perm(entry, 0644);
    archive_write_header(a, entry);
    if (link == nullptr) archive_write_data(a, content.data(), content.size());
    archive_entry_free(entry);
  }
  archive_write_close(a);
  archive_write_free(a);
  return out;
}

Files crate() {
  return {
      {"crate v2/model/Crate.obj", bytes("mtllib crate.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl m\nf 1 2 3\n")},
      {"crate v2/model/crate.MTL",
       bytes("newmtl m\nmap_Kd C:\\work\\planks.png\nmap_Bump ../textures/n.png\n")},
      {"crate v2/textures/planks.png", bytes("png")},
      {"crate v2/textures/n.png", bytes("normal")},
      {"crate v2/read me.txt", bytes("hello")},
      {"crate v2/print/crate.stl", bytes("solid\nfacet\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 "
                                         "0\nendloop\nendfacet\nendsolid\n")},
      {"__MACOSX/crate v2/model/._Crate.obj", bytes("\0\1\2")}};
}

TEST(Archives, EverySortIsKnownByItsBytesAndGivesItsFiles) {
  for (const Sort sort : {Sort::tar, Sort::tar_gz, Sort::tar_xz, Sort::tar_zst, Sort::seven}) {
    const base::Bytes packed = pack(crate(), sort);
    EXPECT_TRUE(isArchive(packed)) << static_cast<int>(sort);
    const auto read = readArchive(packed, "a");
    ASSERT_TRUE(read) << static_cast<int>(sort) << read.error().text();
    EXPECT_EQ(*read, crate()) << static_cast<int>(sort);
  }
  EXPECT_TRUE(isArchive(*writeZip(crate())));
  EXPECT_FALSE(isArchive(base::asBytes("glTF")));
  EXPECT_FALSE(isArchive({}));
}

TEST(ReadArchivedModel, FindsTheModelAndItsPicturesWhereverTheyLie) {
  const auto got = readArchivedModel(*writeZip(crate()), "crate.zip");
  ASSERT_TRUE(got) << got.error().text();
  EXPECT_EQ(got->path, "crate v2/model/Crate.obj");
  EXPECT_THAT(got->others, ElementsAre("crate v2/print/crate.stl"));
  ASSERT_EQ(got->read.model.images.size(), 2u);
  EXPECT_NE(got->read.model.images[0].bytes, nullptr)
      << "its maker's drive is not ours, but the name is in the archive";
  EXPECT_NE(got->read.model.images[1].bytes, nullptr);
  EXPECT_THAT(got->files, testing::Contains(testing::Key("crate.mtl")))
      << "under the name the model has for it";
  std::string notes;
  for (const base::Note& n : got->read.notes) notes += n.message + "|";
  EXPECT_THAT(notes, HasSubstr("planks.png was found as crate v2/textures/planks.png"));
  EXPECT_THAT(notes, HasSubstr("other models too: crate v2/print/crate.stl"));
}

TEST(ReadArchivedModel, TwoFilesOfOneNameAreNotGuessedBetween) {
  Files files = crate();
  files["crate v2/old/planks.png"] = bytes("older");
  const auto got = readArchivedModel(*writeZip(files), "crate.zip");
  ASSERT_TRUE(got);
  EXPECT_EQ(got->read.model.images[0].bytes, nullptr);
}

TEST(ReadArchivedModel, WithoutAModelItSaysWhatToLookFor) {
  const auto got = readArchivedModel(*writeZip({{"a.txt", bytes("x")}}), "a.zip");
  ASSERT_FALSE(got);
  EXPECT_EQ(got.error().code, "archive.no_model");
  EXPECT_THAT(got.error().cure, HasSubstr("glTF"));
}

TEST(Archives, LinksTricksAndDamageAreRefused) {
  const auto link = readArchive(pack({{"a.obj", {}}}, Sort::tar, "/etc/passwd"), "evil.tar");
  ASSERT_FALSE(link);
  EXPECT_EQ(link.error().code, "archive.path");
  const auto path = readArchive(pack({{"../a.obj", bytes("x")}}, Sort::tar), "evil.tar");
  ASSERT_FALSE(path);
  EXPECT_EQ(path.error().code, "archive.path");
  const auto bomb = readArchive(pack({{"a.obj", base::Bytes(200 << 20)}}, Sort::tar_gz), "bomb.tgz");
  ASSERT_FALSE(bomb);
  EXPECT_EQ(bomb.error().code, "archive.too_large");
  std::mt19937 random(4);
  for (const Sort sort : {Sort::tar_gz, Sort::seven}) {
    const base::Bytes good = pack(crate(), sort);
    for (int round = 0; round < 300; ++round) {
      base::Bytes bad(good.begin(), good.begin() + static_cast<std::ptrdiff_t>(1 + random() % good.size()));
      if (round % 2 != 0) bad[random() % bad.size()] ^= static_cast<std::byte>(1 + random() % 255);
      const auto got = readArchivedModel(bad, "a");
      EXPECT_TRUE(got || !got.error().message.empty());
    }
  }
}

}  // namespace
}  // namespace rakugo::formats
