// Reads a mod's sources, replays its preparations and runs the checks. What tool, build and window share.
#pragma once

#include <filesystem>
#include <functional>
#include <map>
#include <memory>
#include <set>

#include "base/sha256.h"
#include "check/context.h"
#include "check/kept_findings.h"

namespace rakugo::check {

/// A mod looked at as a whole. Immutable once made; everything inside stays alive as long as this does.
struct Examination {
  std::filesystem::path folder;
  std::shared_ptr<const mod::ModState> mod;
  std::shared_ptr<const rulebook::Rulebook> book;
  Context context;
  std::vector<Finding> findings;
  /// Whether each mend was tried: it takes its finding away and brings nothing that stops the game; causes
  /// are known.
  bool mends_tried = false;

  /// Findings of a severity that are not set aside.
  [[nodiscard]] size_t count(Severity severity) const;
};

/// Examines states of one mod folder, again and again; sources are read once, replays reuse their prefixes.
/// One call at a time; calls may come from any thread.
class Examiner {
 public:
  Examiner(std::filesystem::path folder, std::shared_ptr<const rulebook::Rulebook> book);
  /// For other states of a mod that was examined; knows its sources already.
  explicit Examiner(const Examination& known);
  /// Errors: job.cancelled. A source that cannot be read is a finding, not an error.
  base::Result<std::shared_ptr<const Examination>> examine(const std::shared_ptr<const mod::ModState>& mod,
                                                           base::Progress* progress = nullptr);
  /// Tries each mend of each finding on a copy of what hangs together with it, by really replaying and
  /// checking. In the result only those are left that take their own finding away and bring none that stops
  /// the game; findings that vanish along with another's first mend are folded under it
  /// (`Finding::caused_by`). What was tried before is known as long as all that it hangs together with stays
  /// the same, also after a cancel. `only`: findings of that model or object alone; the others stay as they
  /// are, and the result does not count as tried. Cost: about an examination of the models concerned for each
  /// mend; meant for the background: one call at a time, which may run beside `examine`. Errors:
  /// job.cancelled.
  struct Looked {
    std::string model, object;
  };
  base::Result<std::shared_ptr<const Examination>> tryMends(const std::shared_ptr<const Examination>& x,
                                                            base::Progress* progress = nullptr,
                                                            const Looked* only = nullptr);
  /// Told of each source as soon as it is read, before anything is prepared of it; on any thread. Set before
  /// the first examination.
  using SourceTold = std::function<void(const std::string& source, const SourceState& state)>;
  void onSourceRead(SourceTold told) { source_told_ = std::move(told); }
  /// The mods installed in the game, for the checks that look beyond this one.
  void setInstalled(std::vector<InstalledMod> installed) { installed_ = std::move(installed); }
  [[nodiscard]] const std::shared_ptr<const rulebook::Rulebook>& book() const { return book_; }

 private:
  struct KeptSource {
    std::string key;  ///< file names and digests it was read for
    SourceState state;
  };
  static std::string sourceKey(const mod::SourceDoc& doc);
  SourceState readSource(const std::string& name, const mod::SourceDoc& doc, base::Progress* progress);
  std::filesystem::path folder_;
  std::shared_ptr<const rulebook::Rulebook> book_;
  std::vector<InstalledMod> installed_;
  SourceTold source_told_;
  std::unique_ptr<Examiner> trier_;  ///< tries mends; remembers what it replayed for the last one
  bool trying_ = false;              ///< this is such a one: the mods it sees are parts of one mod
  struct Trial;
  struct TriedPart;
  std::map<std::string, std::shared_ptr<TriedPart>> tried_;  ///< by place
  static std::shared_ptr<TriedPart> partOf(const Examination& x, const FindingPlace& place);
  base::Status tryFinding(const Finding& f, const std::string& key, const mod::ModState& whole,
                          TriedPart& part, Trial& out, base::Progress* progress);
  void readyTrier(const Examination& x);
  void knowSources(const Examination& x);
  std::map<std::string, base::Error> rulebook_errors_;  ///< by file and message
  void noteError(const base::Error& error);
  std::optional<std::vector<std::string>> files_;  ///< the folder's files, where they are known already
  std::map<std::string, KeptSource> sources_;
  std::map<std::string, prepare::Replayer> replayers_;
  /// By model, what was proposed and what it was worked out from: finding axes looks at every triangle.
  struct KeptProposals {
    prepare::SourceModel of;
    std::shared_ptr<const scene::Model> prepared;
    const rulebook::Kind* kind = nullptr;
    std::vector<mod::StepDoc> steps;
    std::optional<Proposal> unit, axes;
  };
  std::map<std::string, KeptProposals> proposals_;
  KeptFindings findings_;
  /// The last one, whose states of models that did not change are taken over; null after one that was
  /// cancelled.
  std::shared_ptr<const Examination> last_;
  struct Since;
  /// Lets go of what was kept for models and sources that the mod of `context` no longer has.
  void forgetWhatIsGone(const Context& context);
  /// Lets go of what was kept for pictures that no model has any more.
  void forgetPictures();
  void propose(const std::string& model, const mod::ModelDoc& doc, Context& context);
  /// Reading is left to the first examination: whoever makes an Examiner need not wait for it.
  [[nodiscard]] std::vector<std::string> presentFiles(const mod::ModState& mod) const;
  void readGhosts();
  std::map<std::string, Ghost> ghosts_;
  bool ghosts_read_ = false;
  struct KnownPicture {
    std::weak_ptr<const base::Bytes> bytes;
    std::shared_ptr<const PictureState> state;
  };
  /// By the address of a picture's bytes, which is that picture's for as long as they are not let go.
  std::map<const base::Bytes*, KnownPicture> pictures_;
  /// By the digest of the bytes: a step that is replayed reads its picture again, and has other bytes with
  /// the same content.
  std::map<base::Digest, std::weak_ptr<const PictureState>> pictures_by_content_;
  std::vector<PictureState> examinePictures(const scene::Model& model);
  /// By model name, what was found of the prepared model, and the model and kind it was found for.
  struct KeptFacts {
    std::shared_ptr<const scene::Model> of;
    const rulebook::Kind* kind = nullptr;
    ModelFacts facts;
  };
  std::map<std::string, KeptFacts> facts_;
  /// Who gives weights to other models of the mod that is examined; models that are being prepared give
  /// nothing, so that two cannot wait for each other.
  prepare::DonorModels donors_;
  std::set<std::string> preparing_;
  /// `variant`: whom another size takes from; a model that has that size gives that.
  prepare::DonorModels donorsIn(const Context& context, base::Progress* progress,
                                const std::string& variant = {});
  struct Work;
  base::Status readSources(const Since& since, Context& context, base::Progress* progress);
  [[nodiscard]] std::vector<Work> workOn(const std::set<std::string>& changed,
                                         const mod::ModState& mod) const;
  void makePlaces(const Work& work);
  base::Status prepareModel(Work& work, const Context& context, base::Progress* progress);
  base::Status prepareModels(const std::set<std::string>& changed, Context& context,
                             base::Progress* progress);
  /// Fills in the facts of a state that is prepared already. `problems`: files of the rulebook that could not
  /// be read.
  base::Status findFacts(const std::string& model, ModelState& state, std::vector<base::Error>& problems,
                         base::Progress* progress);
  /// By model and variant, the comparison with the first size and what was compared.
  struct KeptVariant {
    std::shared_ptr<const scene::Model> first, other;
    std::shared_ptr<const scene::VariantReport> report;
  };
  std::map<std::string, KeptVariant> variants_;
  base::Status prepareVariants(const std::string& model, const mod::ModelDoc& doc, const Context& context,
                               ModelState& state, base::Progress* progress);
};

/// A `Fetch` for the folder of a source inside a mod.
formats::Fetch fetchFromSource(const std::filesystem::path& mod_folder, const mod::SourceDoc& doc,
                               const std::string& name);

}  // namespace rakugo::check
