#include "standin/script.h"

#include <QImage>
#include <QOffscreenSurface>
#include <QOpenGLContext>
#include <QOpenGLFramebufferObject>

#include "base/files.h"
#include "standin/commands.h"
#include "standin/own_things.h"

namespace rakugo::standin {
namespace {

constexpr int kWidth = 1280, kHeight = 800;

// A context without a window. `view` is null where there is no OpenGL.
struct Stage {
  QOffscreenSurface surface;
  QOpenGLContext context;
  std::unique_ptr<QOpenGLFramebufferObject> frame;
  std::unique_ptr<HarbourView> view;

  bool open() {
    context.setFormat(render::surfaceFormat());
    if (!context.create()) return false;
    surface.setFormat(context.format());
    surface.create();
    if (!surface.isValid() || !context.makeCurrent(&surface)) return false;
    render::Gl* gl = render::currentGl();
    if (gl == nullptr) return false;
    QOpenGLFramebufferObjectFormat frame_format;
    frame_format.setAttachment(QOpenGLFramebufferObject::Depth);
    frame_format.setSamples(4);
    frame = std::make_unique<QOpenGLFramebufferObject>(kWidth, kHeight, frame_format);
    view = std::make_unique<HarbourView>(gl);
    return frame->isValid();
  }
  ~Stage() {
    if (view) context.makeCurrent(&surface);
    view.reset();
    frame.reset();
  }
};

// The next line that is not blank and its number, or nothing at the end.
class Lines {
 public:
  explicit Lines(std::string_view all) : all_(all) {}
  std::optional<std::string_view> next() {
    while (at_ < all_.size()) {
      const size_t end = std::min(all_.find('\n', at_), all_.size());
      const std::string_view line = all_.substr(at_, end - at_);
      at_ = end + 1;
      ++number;
      if (line.find_first_not_of(" \t\r") != std::string_view::npos) return line;
    }
    return std::nullopt;
  }
  int number = 0;

 private:
  std::string_view all_;
  size_t at_ = 0;
};

}  // namespace

int runScript(const HeadlessOptions& options, const Game::Say& say) {
  Game game(options.mods, say);
  Play play(game, say);
  Commands commands(game, play, say);
  takeHarboursOwn(game);
  game.scan();
  const auto text = base::readFile(options.script, 4 << 20);
  if (!text) {
    say({"error", "script", options.script.string(), "", "", "", text.error().message});
    return 2;
  }
  Stage stage;
  if (!stage.open())
    say({"warning", "no_display", "", "", "", "", "There is no OpenGL here; no pictures can be taken."});
  HarbourView* view = commands.view = stage.view.get();
  const auto frame = [&] {
    if (view != nullptr) view->draw(game, play, stage.frame->handle(), kWidth, kHeight);
  };
  const auto shot = [&](const std::string& file) {
    bool saved = false;
    if (view != nullptr && base::isInnerPath(file)) {
      frame();
      saved = stage.frame->toImage()
                  .convertToFormat(QImage::Format_RGB32)
                  .save(QString::fromStdString((options.shots / file).string()));
    }
    say({saved ? "info" : "error", "shot", file, "", "", "",
         saved ? "Took " + file + ": " + std::to_string(view->drawnTriangles()) + " triangles of mods' things"
               : "The picture " + file + " could not be taken."});
    return saved;
  };
  // What the player hears while so many seconds pass, as a WAV file.
  Mixer mixer;
  const auto hear = [&](const std::string& file, double seconds) {
    std::vector<float> samples;
    const auto steps = static_cast<int>(std::clamp(seconds, 0.0, 120.0) * 30);
    for (int i = 0; i < steps; ++i) {
      play.pass(1.0F / 30);
      const glm::vec3 otherwise = view != nullptr ? view->camera.position() : glm::vec3(0, 0, 2);
      const auto some = mixer.mix(
          play.heard(), play.ear(otherwise),
          Mixer::kRate_hz * static_cast<size_t>(i + 1) / 30 - Mixer::kRate_hz * static_cast<size_t>(i) / 30);
      samples.insert(samples.end(), some.begin(), some.end());
    }
    const bool saved = base::isInnerPath(file) && writeHeard(options.shots / file, samples);
    say({saved ? "info" : "error", "hear", file, "", "", "",
         saved ? "Heard " + std::to_string(play.heard().size()) + " sounds in " + file
               : "The sound " + file + " could not be written."});
    return saved;
  };
  int exit = 0;
  Lines lines(base::asText(*text));
  while (const auto line = lines.next()) {
    const std::string place = options.script.filename().string() + ":" + std::to_string(lines.number);
    const auto json = base::parseJson(*line, place);
    std::vector<base::Error> complaints;
    if (json) {
      base::JsonFields in(*json, place, "", complaints);
      const std::string what = in.text("do");
      if (what == "frames") {
        for (int64_t i = 0; i < std::clamp<int64_t>(in.integer("count", 1), 0, 1000); ++i) {
          if (game.scan()) play.refresh();
          play.pass(1.0F / 30);
          if (view != nullptr) view->time_s += 1.0F / 30;
          frame();
        }
      } else if (what == "hear") {
        if (!hear(in.text("file"), in.number("seconds", 1))) exit = 2;
      } else if (what == "shot") {
        if (!shot(in.text("file"))) exit = 2;
      } else if (const auto done = commands.run(*json, place); !done) {
        complaints.push_back(done.error());
      }
    } else {
      complaints.push_back(json.error());
    }
    for (const base::Error& c : complaints) {
      say({"error", "script", place, "", "", "", c.message});
      exit = 2;
    }
  }
  return exit;
}

}  // namespace rakugo::standin
