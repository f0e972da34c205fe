#include "check/examiner.h"

#include <algorithm>

#include "base/files.h"
#include "base/phrase.h"
#include "base/sha256.h"
#include "check/proposals.h"
#include "check/space_guess.h"
#include "check/structure_faults.h"
#include "mod/origins.h"
#include "mod/store.h"
#include "prepare/edit_steps.h"
#include "prepare/newer/incoming.h"
#include "prepare/objects/derived_model.h"
#include "prepare/outfit/body.h"
#include "prepare/parts/pieces.h"
#include "prepare/shipped_models.h"
#include "prepare/step.h"

namespace rakugo::check {
namespace fs = std::filesystem;

size_t Examination::count(Severity severity) const {
  return static_cast<size_t>(std::count_if(findings.begin(), findings.end(), [&](const Finding& f) {
    return f.severity == severity && !f.set_aside;
  }));
}

formats::Fetch fetchFromSource(const fs::path& mod_folder, const mod::SourceDoc& doc,
                               const std::string& name) {
  return formats::fetchBeside(mod_folder / "sources" / name / doc.file, base::Limits{});
}

Examiner::Examiner(fs::path folder, std::shared_ptr<const rulebook::Rulebook> book)
    : folder_(std::move(folder)), book_(std::move(book)) {}

Examiner::Examiner(const Examination& known) : Examiner(known.folder, known.book) {
  knowSources(known);
  installed_ = known.context.installed;
  files_ = known.context.files;
}

void Examiner::knowSources(const Examination& x) {
  sources_.clear();
  for (const auto& [name, doc] : x.mod->sources)
    if (const auto state = x.context.sources.find(name); state != x.context.sources.end())
      sources_[name] = {sourceKey(doc), state->second};
}

void Examiner::noteError(const base::Error& error) { rulebook_errors_.emplace(error.text(), error); }

void Examiner::readGhosts() {
  if (ghosts_read_) return;
  ghosts_read_ = true;
  for (const rulebook::Kind* kind : book_->modelKinds()) {
    if (kind->ghost.empty()) continue;
    if (auto model = prepare::shippedModel(*book_, kind->ghost))
      ghosts_[kind->id] = {*model, scene::boundsOf(**model).size(),
                           std::make_shared<const geometry::Occupancy>(occupancyOf(**model))};
    else
      noteError(model.error());
  }
}

namespace {

// A picture or a sound.
void readOther(const fs::path& file, prepare::SourceSort sort, SourceState& state) {
  const auto bytes = base::readFile(file);
  const std::string name = file.filename().string();
  if (!bytes) {
    state.error = bytes.error();
  } else if (sort == prepare::SourceSort::picture) {
    auto info = formats::pictureInfo(*bytes, name);
    if (info)
      state.picture = *info;
    else
      state.error = info.error();
  } else {
    auto sound = formats::decodeSound(*bytes, name);
    if (sound) {
      state.sound = std::make_shared<const formats::Sound>(std::move(sound).value());
      state.sounds_made = std::make_shared<prepare::SoundsMade>(state.sound);
    } else
      state.error = sound.error();
  }
}

}  // namespace

std::string Examiner::sourceKey(const mod::SourceDoc& doc) {
  std::string key = doc.file;
  for (const mod::SourceFile& f : doc.files) key += "\n" + f.path + " " + f.sha256;
  return key;
}

SourceState Examiner::readSource(const std::string& name, const mod::SourceDoc& doc,
                                 base::Progress* progress) {
  SourceState state;
  const fs::path folder = folder_ / "sources" / name;
  for (const mod::SourceFile& file : doc.files) {
    const auto bytes = base::readFile(folder / file.path);
    if (!bytes)
      state.missing_files.push_back(file.path);
    else if (!file.sha256.empty() && base::hex(base::sha256(*bytes)) != file.sha256)
      state.changed_files.push_back(file.path);
  }
  const auto sort = prepare::sourceSortOf(doc.file);
  if (sort == prepare::SourceSort::picture || sort == prepare::SourceSort::sound) {
    readOther(folder / doc.file, *sort, state);
    return state;
  }
  formats::ReadOptions options;
  options.progress = progress;
  auto read = formats::readModelFile(folder / doc.file, options);
  const base::Status within = read ? scene::drawnWithin(read->model, options.limits) : read.error();
  if (within) {
    state.read = std::make_shared<const formats::ReadModel>(std::move(read).value());
  } else {
    state.error = within.error();
    if (state.error->place.file.empty()) state.error->place.file = (folder / doc.file).string();
  }
  return state;
}

void Examiner::propose(const std::string& model, const mod::ModelDoc& doc, Context& context) {
  ModelState& state = context.models.at(model);
  // What is made from another model has its unit and stands as that does.
  if (!prepare::beginningOf(doc).empty()) return;
  const auto source = context.sources.find(doc.source);
  if (source == context.sources.end() || !source->second.read || !state.prepared.model) return;
  KeptProposals& known = proposals_.at(model);
  const bool same = known.of == source->second.read && known.kind == state.kind && known.steps == doc.steps;
  if (!same || known.prepared != state.prepared.model) known.unit = proposeUnit(context, model);
  known.prepared = state.prepared.model;
  // Which way it stands is told by the source and by the step that turns it alone.
  const auto turns = [](const std::vector<mod::StepDoc>& steps) {
    std::vector<mod::StepDoc> out;
    for (const mod::StepDoc& step : steps)
      if (step.kind == "turn" && step.enabled) out.push_back(step);
    return out;
  };
  if (known.of != source->second.read || known.kind != state.kind || turns(known.steps) != turns(doc.steps))
    known.axes = proposeAxes(context, model);
  if (!same) known.of = source->second.read, known.kind = state.kind, known.steps = doc.steps;
  state.unit = known.unit;
  state.axes = known.axes;
  if (auto* further = context.further_kinds.change(model))
    for (ModelState& other : *further) other.unit = known.unit, other.axes = known.axes;
}

base::Status Examiner::findFacts(const std::string& model, ModelState& state,
                                 std::vector<base::Error>& problems, base::Progress* progress) {
  KeptFacts& kept = facts_.at(model);
  if (kept.of != state.prepared.model || kept.kind != state.kind) {
    const scene::Model& prepared = *state.prepared.model;
    ModelFacts facts;
    scene::StructureOptions look;
    look.thorough = facts.thorough = asksThoroughLook(*book_, state.kind);
    RAKUGO_ASSIGN(auto structure, scene::structureOf(prepared, 1, look, progress));
    facts.structure = std::make_shared<const std::vector<scene::PartStructure>>(std::move(structure));
    const auto cancelled = [&] { return progress != nullptr && progress->cancelled(); };
    facts.same_parts = std::make_shared<const std::vector<scene::SameParts>>(scene::sameParts(prepared));
    facts.regions = std::make_shared<const std::vector<scene::RegionCover>>(scene::regionCovers(prepared));
    if (state.kind != nullptr && !state.kind->body.empty() && prepared.frame.turned) {
      const auto body = prepare::gameBody(*book_, state.kind->id);
      if (body)
        facts.seams = std::make_shared<const scene::SeamReport>(scene::seamsBetween(prepared, **body));
      else
        problems.push_back(body.error());
    }
    if (cancelled()) return base::cancelledError();
    if (const rulebook::Skeleton* skeleton =
            state.kind != nullptr ? book_->findSkeleton(state.kind->skeleton) : nullptr) {
      facts.bones =
          std::make_shared<const prepare::BoneMatch>(prepare::matchBones(prepared, *skeleton, *book_));
      if (state.prepared.model->frame.turned) {
        if (cancelled()) return base::cancelledError();
        const auto figure = prepare::gameFigure(*book_, *skeleton);
        if (figure) {
          facts.moments = std::make_shared<const std::vector<prepare::MomentOff>>(
              prepare::momentsOff(prepared, *skeleton, *book_, *figure));
          const prepare::Retarget retarget(prepared, prepare::bonesByGameName(prepared, *skeleton), *skeleton,
                                           *book_, *figure);
          facts.skin_faults = std::make_shared<const std::vector<prepare::SkinFault>>(
              prepare::skinFaults(prepared, retarget, *skeleton));
        } else if (figure.error().code != "movements.none") {
          problems.push_back(figure.error());
        }
      }
      if (cancelled()) return base::cancelledError();
      facts.weight_faults =
          std::make_shared<const prepare::WeightFaults>(prepare::weightFaults(prepared, *skeleton, *book_));
      facts.weights = std::make_shared<const scene::WeightReport>(
          scene::weightsOf(prepared, static_cast<int>(state.kind->max_influences)));
    }
    if (const auto ghost = state.kind != nullptr ? ghosts_.find(state.kind->id) : ghosts_.end();
        ghost != ghosts_.end())
      facts.facing = guessFacing(&ghost->second, *book_, prepared.frame, occupancyOf(prepared));
    facts.box_m = scene::boundsOf(prepared);
    facts.reach_m = prepare::reachOf(prepared);
    kept = {state.prepared.model, state.kind, std::move(facts)};
  }
  static_cast<ModelFacts&>(state) = kept.facts;
  return {};
}

base::Status Examiner::prepareVariants(const std::string& model, const mod::ModelDoc& doc,
                                       const Context& context, ModelState& state, base::Progress* progress) {
  for (const auto& [variant, source] : doc.variants) {
    const auto found = context.sources.find(source);
    if (found == context.sources.end() || !found->second.read) continue;
    const auto fetch = fetchFromSource(folder_, context.mod->sources.at(source), source);
    // No name of a model holds a slash.
    const std::string key = model + "/" + variant;
    auto prepared = replayers_.at(key).replay(found->second.read, doc.steps, *book_, fetch, progress,
                                              &state.prepared, donorsIn(context, progress, variant));
    if (!prepared) return prepared.error();
    KeptVariant& kept = variants_.at(key);
    if (kept.first != state.prepared.model || kept.other != prepared->model)
      kept = {state.prepared.model, prepared->model,
              std::make_shared<const scene::VariantReport>(
                  scene::compareVariants(*state.prepared.model, *prepared->model))};
    state.variants[variant] = {std::move(prepared).value(), kept.report};
  }
  return {};
}

namespace {

// Decoded to the last pixel: what cannot be decoded is not built, and has to be said before.
std::shared_ptr<const PictureState> lookAtPicture(const scene::Image& image) {
  const std::string name = image.uri.empty() ? image.name : image.uri;
  auto out = std::make_shared<PictureState>();
  auto info = formats::pictureInfo(*image.bytes, name);
  const auto decoded = info ? formats::decodePicture(*image.bytes, name) : info.error();
  if (decoded) {
    out->info = *info;
    out->traits = formats::pictureTraits(*decoded);
  } else {
    out->error = decoded.error();
  }
  return out;
}

}  // namespace

std::vector<PictureState> Examiner::examinePictures(const scene::Model& model) {
  struct Fresh {
    const scene::Image* image;
    base::Digest digest;
    std::shared_ptr<const PictureState> state;
  };
  std::vector<Fresh> fresh;
  for (const scene::Image& image : model.images) {
    if (!image.bytes) continue;
    const auto known = pictures_.find(image.bytes.get());
    if (known == pictures_.end() || known->second.bytes.lock() != image.bytes)
      fresh.push_back({&image, {}, {}});
  }
  base::parallelFor(fresh.size(), [&](size_t i) {
    fresh[i].digest = base::sha256(*fresh[i].image->bytes);
    // The same bytes under another name may be said of by that name, where they cannot be read.
    if (const auto same = pictures_by_content_.find(fresh[i].digest); same != pictures_by_content_.end())
      if (auto state = same->second.lock(); state != nullptr && state->info)
        fresh[i].state = std::move(state);
    if (fresh[i].state == nullptr) fresh[i].state = lookAtPicture(*fresh[i].image);
  });
  for (Fresh& one : fresh) {
    pictures_by_content_.insert_or_assign(one.digest, one.state);
    pictures_.insert_or_assign(one.image->bytes.get(), KnownPicture{one.image->bytes, std::move(one.state)});
  }
  std::vector<PictureState> out;
  for (const scene::Image& image : model.images)
    out.push_back(image.bytes ? *pictures_.at(image.bytes.get()).state : PictureState());
  return out;
}

void Examiner::forgetWhatIsGone(const Context& context) {
  // Keys are "model", "model/variant" or "model/kind".
  const auto gone = [&](const auto& kept) {
    return context.mod->models.count(std::string_view(kept.first).substr(0, kept.first.find('/'))) == 0;
  };
  std::erase_if(replayers_, gone);
  std::erase_if(proposals_, gone);
  std::erase_if(facts_, gone);
  std::erase_if(variants_, gone);
  std::erase_if(sources_, [&](const auto& kept) { return context.mod->sources.count(kept.first) == 0; });
}

void Examiner::forgetPictures() {
  std::erase_if(pictures_, [](const auto& kept) { return kept.second.bytes.expired(); });
  std::erase_if(pictures_by_content_, [](const auto& kept) { return kept.second.expired(); });
}

// What an examination can take over from the last one.
struct Examiner::Since {
  std::shared_ptr<const Examination> last;  // may be null: then nothing
  KeptFindings::Changed changed;            // and what is linked to it
  bool names_gone = true;                   // something of the last one is not in the mod any more

  [[nodiscard]] bool hasSource(const std::string& name, const SourceState& state) const {
    if (last == nullptr) return false;
    const auto then = last->context.sources.find(name);
    return then != last->context.sources.end() && then->second.read == state.read &&
           then->second.sound == state.sound && !then->second.error && !state.error &&
           then->second.changed_files == state.changed_files &&
           then->second.missing_files == state.missing_files;
  }
  void find(const Context& context);
};

namespace {

// Names whose values differ, or that one of the two maps alone has.
template <class V>
std::set<std::string> differingNames(const base::SharedMap<V>& a, const base::SharedMap<V>& b) {
  std::set<std::string> out;
  auto one = a.begin();
  auto other = b.begin();
  while (one != a.end() || other != b.end()) {
    if (other == b.end() || (one != a.end() && one->first < other->first)) {
      out.insert((one++)->first);
    } else if (one == a.end() || other->first < one->first) {
      out.insert((other++)->first);
    } else {
      if (&one->second != &other->second && !(one->second == other->second)) out.insert(one->first);
      ++one, ++other;
    }
  }
  return out;
}

template <class V>
bool hasAll(const base::SharedMap<V>& map, const base::SharedMap<V>& names) {
  return std::all_of(names.begin(), names.end(), [&](const auto& one) { return map.count(one.first) != 0; });
}

}  // namespace

// Compares the documents, sources and icons. A model counts as changed when its document, one of its sources
// an object that uses it, or a model that it takes something from has changed.
void Examiner::Since::find(const Context& context) {
  const mod::ModState& now = *context.mod;
  if (last == nullptr) return;
  const mod::ModState& then = *last->mod;
  changed.objects = differingNames(now.objects, then.objects);
  changed.models = differingNames(now.models, then.models);
  std::set<std::string> sources = differingNames(now.sources, then.sources);
  names_gone = !hasAll(now.models, then.models) || !hasAll(now.sources, then.sources);
  for (const auto& [name, state] : context.sources)
    if (const auto before = last->context.sources.find(name);
        before == last->context.sources.end() ||
        (&before->second != &state && (state.error || before->second.error || !hasSource(name, state))))
      sources.insert(name);
  if (now.icons != then.icons)
    for (const auto& [name, doc] : now.objects) {
      const auto icon = now.icons.find(doc.icon), before = then.icons.find(doc.icon);
      const bool there = icon != now.icons.end(), was_there = before != then.icons.end();
      if (there != was_there || (there && icon->second != before->second)) changed.objects.insert(name);
    }
  for (const std::string& name : changed.objects)
    for (const mod::ModState* state : {&now, &then})
      if (const auto doc = state->objects.find(name); doc != state->objects.end())
        for (const mod::PieceDoc& piece : doc->second.pieces)
          if (now.models.count(piece.model) != 0) changed.models.insert(piece.model);
  for (const auto& [name, doc] : now.models) {
    const auto states = last->context.models.find(name);
    const auto of_changed = [&](const std::string& source) { return sources.count(source) != 0; };
    const std::vector<std::string> used = sources.empty() ? std::vector<std::string>() : mod::sourcesOf(doc);
    if (states == last->context.models.end() || !states->second.prepared.model ||
        std::any_of(used.begin(), used.end(), of_changed))
      changed.models.insert(name);
  }
  // And what takes something from one that has changed, or came or went, until nothing is added.
  const auto is_new = [&](const std::string& giver) {
    return changed.models.count(giver) != 0 || now.models.contains(giver) != then.models.contains(giver);
  };
  for (size_t before = SIZE_MAX; before != changed.models.size();) {
    before = changed.models.size();
    for (const auto& [name, doc] : now.models) {
      if (changed.models.count(name) != 0) continue;
      const std::vector<std::string> givers = prepare::modelsNamedBy(doc);
      if (std::any_of(givers.begin(), givers.end(), is_new)) changed.models.insert(name);
    }
  }
}

// Reads the sources that are not known yet, side by side.
base::Status Examiner::readSources(const Since& since, Context& context, base::Progress* progress) {
  struct Fresh {
    const std::string* name;
    const mod::SourceDoc* doc;
    KeptSource kept;
  };
  std::vector<Fresh> fresh;
  for (const auto& [name, doc] : context.mod->sources) {
    std::string key = sourceKey(doc);
    const auto kept = sources_.find(name);
    // A source that failed is tried again: the person may just have put the missing file there.
    if (kept == sources_.end() || kept->second.key != key || kept->second.state.error ||
        !kept->second.state.missing_files.empty())
      fresh.push_back({&name, &doc, {std::move(key), {}}});
  }
  base::parallelFor(fresh.size(), [&](size_t i) {
    if (progress != nullptr) {
      if (progress->cancelled()) return;
      progress->say(base::phrase("Reading {0}", *fresh[i].name), 0.1);
    }
    fresh[i].kept.state = readSource(*fresh[i].name, *fresh[i].doc, progress);
    if (source_told_) source_told_(*fresh[i].name, fresh[i].kept.state);
  });
  if (progress != nullptr && progress->cancelled()) return base::cancelledError();
  for (Fresh& one : fresh) sources_.insert_or_assign(*one.name, std::move(one.kept));
  for (const auto& [name, doc] : context.mod->sources) {
    // Shared with the examination before, where that had read the same.
    const SourceState& state = sources_.at(name).state;
    if (since.hasSource(name, state))
      context.sources.share(since.last->context.sources, name);
    else
      context.sources.insert_or_assign(name, state);
  }
  return {};
}

// A model that is prepared anew, as all its states.
struct Examiner::Work {
  std::string name;
  const mod::ModelDoc* doc;
  ModelState state;
  std::vector<ModelState> further;    // one for each further kind of object that uses it
  std::vector<base::Error> problems;  // of the rulebook's files
  base::Status done;
};

// The changed models that are there, each with one state for each kind of object that uses it.
std::vector<Examiner::Work> Examiner::workOn(const std::set<std::string>& changed,
                                             const mod::ModState& mod) const {
  // The objects that use a model, in their order.
  std::map<std::string, std::vector<std::string>> users;
  for (const auto& [object, object_doc] : mod.objects)
    for (const mod::PieceDoc& piece : object_doc.pieces)
      if (changed.count(piece.model) != 0)
        if (std::vector<std::string>& of = users[piece.model]; of.empty() || of.back() != object)
          of.push_back(object);
  std::vector<Work> out;
  for (const std::string& name : changed) {
    const auto found = mod.models.find(name);
    if (found == mod.models.end()) continue;
    Work work{name, &found->second, {}, {}, {}, {}};
    for (const std::string& object : users[name]) {
      const mod::ObjectDoc& doc = mod.objects.at(object);
      for (const rulebook::Kind* kind : prepare::kindsOfModel(*book_, doc, name)) {
        ModelState* into = work.state.objects.empty() || work.state.kind == kind ? &work.state : nullptr;
        for (ModelState& other : work.further)
          if (other.kind == kind) into = &other;
        if (into == nullptr) into = &work.further.emplace_back();
        if (into->objects.empty()) into->object = object, into->kind = kind;
        into->objects.push_back(object);
      }
    }
    out.push_back(std::move(work));
  }
  return out;
}

// Whatever is kept for a model has its place before several are prepared side by side.
void Examiner::makePlaces(const Work& work) {
  replayers_[work.name];
  facts_[work.name];
  proposals_[work.name];
  for (const ModelState& other : work.further)
    if (other.kind != nullptr) facts_[work.name + "/" + other.kind->id];
  for (const auto& [variant, source] : work.doc->variants) {
    replayers_[work.name + "/" + variant];
    variants_[work.name + "/" + variant];
  }
}

base::Status Examiner::prepareModel(Work& work, const Context& context, base::Progress* progress) {
  if (progress != nullptr) {
    if (progress->cancelled()) return base::cancelledError();
    progress->say(base::phrase("Preparing {0}", work.name), 0.5);
  }
  const mod::ModelDoc& doc = *work.doc;
  const auto source = context.sources.find(doc.source);
  if (source == context.sources.end() || !source->second.read) return {};
  const auto fetch = fetchFromSource(folder_, context.mod->sources.at(doc.source), doc.source);
  RAKUGO_ASSIGN(work.state.prepared, replayers_.at(work.name).replay(source->second.read, doc.steps, *book_,
                                                                     fetch, progress, nullptr, donors_));
  RAKUGO_TRY(prepareVariants(work.name, doc, context, work.state, progress));
  RAKUGO_TRY(findFacts(work.name, work.state, work.problems, progress));
  for (ModelState& other : work.further) {
    if (other.kind == nullptr) continue;
    other.prepared = work.state.prepared;
    other.variants = work.state.variants;
    RAKUGO_TRY(findFacts(work.name + "/" + other.kind->id, other, work.problems, progress));
  }
  return {};
}

// Prepares the models that changed, and works out what is known of them, side by side; those that take
// something from others one after another, for they replay those too.
base::Status Examiner::prepareModels(const std::set<std::string>& changed, Context& context,
                                     base::Progress* progress) {
  donors_ = donorsIn(context, progress);
  std::vector<Work> works = workOn(changed, *context.mod);
  std::vector<Work*> alone, taking;
  for (Work& work : works) {
    makePlaces(work);
    (prepare::modelsNamedBy(*work.doc).empty() ? alone : taking).push_back(&work);
  }
  base::parallelFor(alone.size(),
                    [&](size_t i) { alone[i]->done = prepareModel(*alone[i], context, progress); });
  for (Work* work : taking) {
    preparing_ = {work->name};
    work->done = prepareModel(*work, context, progress);
  }
  preparing_.clear();
  donors_ = nullptr;  // it knows this call's context
  for (Work& work : works) {
    RAKUGO_TRY(work.done);
    for (const base::Error& problem : work.problems) noteError(problem);
    if (work.state.prepared.model) work.state.pictures = examinePictures(*work.state.prepared.model);
    std::vector<ModelState> further;
    for (ModelState& other : work.further)
      if (other.prepared.model) {
        other.pictures = work.state.pictures;
        further.push_back(std::move(other));
      }
    context.models.insert_or_assign(work.name, std::move(work.state));
    if (!further.empty()) context.further_kinds.insert_or_assign(work.name, std::move(further));
  }
  base::parallelFor(works.size(), [&](size_t i) {
    if (progress == nullptr || !progress->cancelled()) propose(works[i].name, *works[i].doc, context);
  });
  return progress != nullptr && progress->cancelled() ? base::cancelledError() : base::Status();
}

prepare::DonorModels Examiner::donorsIn(const Context& context, base::Progress* progress,
                                        const std::string& variant) {
  return
      [this, &context, progress, variant](const std::string& other) -> std::shared_ptr<const scene::Model> {
        const mod::ModState& mod = *context.mod;
        const auto doc = mod.models.find(other);
        if (doc == mod.models.end() || !preparing_.insert(other).second) return nullptr;
        const auto source = context.sources.find(doc->second.source);
        std::shared_ptr<const scene::Model> given;
        if (source != context.sources.end() && source->second.read) {
          const auto fetch = fetchFromSource(folder_, mod.sources.at(doc->second.source), doc->second.source);
          auto prepared = replayers_[other].replay(source->second.read, doc->second.steps, *book_, fetch,
                                                   progress, nullptr, donors_);
          if (prepared) given = prepared->model;
          const auto size = doc->second.variants.find(variant);
          const auto of_size =
              size != doc->second.variants.end() ? context.sources.find(size->second) : context.sources.end();
          if (prepared && of_size != context.sources.end() && of_size->second.read) {
            const auto beside = fetchFromSource(folder_, mod.sources.at(size->second), size->second);
            auto sized = replayers_[other + "/" + variant].replay(of_size->second.read, doc->second.steps,
                                                                  *book_, beside, progress, &*prepared,
                                                                  donorsIn(context, progress, variant));
            if (sized) given = sized->model;
          }
        }
        preparing_.erase(other);
        return given;
      };
}

// What of the mod's folder belongs to the mod: without what was copied in here and is no source's any more.
std::vector<std::string> Examiner::presentFiles(const mod::ModState& mod) const {
  std::vector<std::string> files = mod::modFiles(folder_);
  const std::set<std::string> left = mod::leftOver(mod::loadOrigins(folder_), mod);
  if (!left.empty()) std::erase_if(files, [&](const std::string& one) { return left.count(one) != 0; });
  return files;
}

base::Result<std::shared_ptr<const Examination>> Examiner::examine(
    const std::shared_ptr<const mod::ModState>& mod, base::Progress* progress) {
  auto out = std::make_shared<Examination>();
  out->folder = folder_;
  out->mod = mod;
  out->book = book_;
  Context& context = out->context;
  context.mod = mod.get();
  context.book = book_.get();
  context.has_objects = !mod->objects.empty();
  context.installed = installed_;
  readGhosts();
  context.ghosts = ghosts_;
  context.files = files_ ? *files_ : presentFiles(*mod);
  Since since{std::exchange(last_, nullptr), {}};
  RAKUGO_TRY(readSources(since, context, progress));
  since.find(context);
  const bool first = since.last == nullptr;
  if (first) {
    for (const auto& [name, doc] : mod->models) since.changed.models.insert(name);
  } else {
    context.models = since.last->context.models;
    context.further_kinds = since.last->context.further_kinds;
  }
  const std::set<std::string>& changed = since.changed.models;
  for (const std::string& name : changed) context.models.erase(name), context.further_kinds.erase(name);
  RAKUGO_TRY(prepareModels(changed, context, progress));
  for (const auto& [said, error] : rulebook_errors_) context.rulebook_errors.push_back(error);
  if (!trying_ && since.names_gone) forgetWhatIsGone(context);
  if (!trying_) forgetPictures();
  if (progress != nullptr) progress->say("Checking", 0.9);
  out->findings = findings_.run(context, progress, first ? nullptr : &since.changed, mod);
  if (progress != nullptr && progress->cancelled()) return base::cancelledError();
  last_ = out;
  return std::shared_ptr<const Examination>(std::move(out));
}

}  // namespace rakugo::check
