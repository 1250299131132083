#include "gui/document/document.h"

#include <unistd.h>

#include <QDateTime>
#include <QDir>
#include <QFileInfo>
#include <QJsonDocument>
#include <QJsonObject>
#include <QStandardPaths>
#include <QUuid>

#include "core/base/files.h"
#include "core/solve/open.h"
#include "core/solve/setup.h"

namespace uadze::gui {
namespace {

/// Which process it is, among all that had or will have its number; empty if none has it now.
QString process_mark(pid_t pid) {
  QFile boot("/proc/sys/kernel/random/boot_id"), stat(QString("/proc/%1/stat").arg(pid));
  if (!boot.open(QIODevice::ReadOnly) || !stat.open(QIODevice::ReadOnly)) return {};
  // The 22nd field is when it was started; the second, in brackets, may hold anything.
  const QByteArray line = stat.readAll();
  const auto fields = line.mid(line.lastIndexOf(')') + 2).split(' ');
  return fields.size() < 20 ? QString() : QString::fromLatin1(boot.readAll().trimmed() + " " + fields[19]);
}

}  // namespace

class EditCommand : public QUndoCommand {
 public:
  EditCommand(Document& document, const QString& text, project::Project before, project::Project after,
              int key, int epoch)
      : QUndoCommand(text),
        document_(document),
        before_(std::move(before)),
        after_(std::move(after)),
        key_(key),
        epoch_(epoch) {}
  void undo() override { document_.set_project(before_); }
  void redo() override { document_.set_project(after_); }
  int id() const override { return key_ == 0 ? -1 : key_; }
  bool mergeWith(const QUndoCommand* other) override {
    const auto& next = static_cast<const EditCommand&>(*other);
    if (next.epoch_ != epoch_) return false;
    after_ = next.after_;
    return true;
  }

 private:
  Document& document_;
  project::Project before_, after_;
  int key_, epoch_;
};

Document::Document(QObject* parent) : QObject(parent) {
  writer_.setMaxThreadCount(1);
  autosave_timer_.setSingleShot(true);
  autosave_timer_.setInterval(400);
  connect(&autosave_timer_, &QTimer::timeout, this, &Document::write_autosave);
  connect(&undo_, &QUndoStack::cleanChanged, this, &Document::file_changed);
}

Document::~Document() { drop_autosave(); }

QString Document::title() const {
  if (!path_.isEmpty()) return QFileInfo(path_).fileName();
  return "unsaved project";
}

std::string Document::place_of_file() const { return path_.toStdString(); }

std::filesystem::path Document::folder() const {
  return path_.isEmpty() ? std::filesystem::path{} : std::filesystem::path(path_.toStdString()).parent_path();
}

bool Document::edit(const QString& what, const std::function<void(project::Project&)>& change,
                    int merge_key) {
  project::Project after = project_;
  try {
    change(after);
    solve::keep_figures(project_, after);
    project::follow_renames(project_, after);
    // The same checks as a file's, so that what can be edited can be saved and opened again.
    Messages found = project::check_values(after, place_of_file());
    if (!has_errors(found)) found = solve::check(after, place_of_file(), *sources_);
    for (const Message& m : found) {
      if (m.severity != Severity::error) continue;
      // The file's name says nothing here: it is the open project.
      QString why = QString::fromStdString(m.text().substr(7));
      if (m.file == place_of_file())
        why = why.mid(static_cast<int>(m.file.size()) + (m.file.empty() ? 0 : 2));
      emit refused(what + ": " + why);
      return false;
    }
  } catch (const std::exception& error) {
    emit refused(what + ": " + error.what());
    return false;
  }
  if (after == project_) return true;
  undo_.push(new EditCommand(*this, what, project_, std::move(after), merge_key, merge_epoch_));
  return true;
}

void Document::set_project(project::Project project) {
  project_ = std::move(project);
  // Not put off by what follows: keys that are held would leave seconds of work unsaved.
  if (!autosave_timer_.isActive()) autosave_timer_.start();
  emit changed();
}

void Document::adopt(project::Opened opened, QString path, std::shared_ptr<solve::Sources> sources) {
  drop_autosave();
  path_ = std::move(path);
  text_ = std::move(opened.file.text);
  notes_ = std::move(opened.notes);
  sources_ = std::move(sources);
  restored_ = false;
  project_ = std::move(opened.project);
  undo_.clear();
  undo_.setClean();
  autosave_timer_.stop();
  emit replaced();
  emit file_changed();
  emit changed();
}

void Document::open(const QString& path, solve::Outside outside) {
  const QString absolute = QFileInfo(path).absoluteFilePath();
  const std::filesystem::path file = absolute.toStdString();
  auto sources = std::make_shared<solve::Sources>(file.parent_path());
  auto opened = solve::open_project(file, *sources, outside);
  adopt(std::move(opened), absolute, std::move(sources));
}

void Document::save() { save_as(path_); }

bool Document::changed_on_disk() const {
  try {
    return QFileInfo::exists(path_) && read_file(path_.toStdString()) != text_;
  } catch (const InputError&) {
    return false;  // saving will say what is wrong
  }
}

void Document::save_as(const QString& path) {
  const QString absolute = QFileInfo(path).absoluteFilePath();
  const std::filesystem::path target = absolute.toStdString();
  project::Project moved = project::moved(project_, folder(), target.parent_path());
  const project::ProjectFile file = project::save_project(target, moved, text_);
  const bool elsewhere = !(moved == project_);
  if (folder() != target.parent_path()) sources_ = std::make_shared<solve::Sources>(target.parent_path());
  project_ = std::move(moved);
  text_ = file.text;
  path_ = absolute;
  restored_ = false;
  // History from before the move names lap files relative to the old folder.
  if (elsewhere) undo_.clear();
  undo_.setClean();
  drop_autosave();
  emit file_changed();
  if (elsewhere) emit changed();
}

void Document::start_new() {
  project::Project fresh;
  fresh.name = "New project";
  project::Setup setup;
  setup.name = "First setup";
  setup.tank.shapes = {tank::Box{{-0.25, -0.3, 0}, {0.25, 0.3, 0.25}}};
  setup.tank.pickups = {{"pickup", {-0.2, 0, 0.005}, 0.02, "engine"}};
  fresh.setups = {setup};
  adopt({.project = std::move(fresh), .file = {}, .notes = {}}, {}, std::make_shared<solve::Sources>());
}

QString Document::autosave_folder() {
  const QString folder = QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/autosave";
  QDir().mkpath(folder);
  return folder;
}

void Document::write_autosave() {
  if (!is_modified()) {
    drop_autosave();
    return;
  }
  if (autosave_path_.isEmpty())
    autosave_path_ = autosave_folder() + "/" + QUuid::createUuid().toString(QUuid::WithoutBraces) + ".json";
  // Of what stands now, in a thread of its own: a disk may take longer than a hand notices. One after the
  // other.
  writer_.start([this, project = project_, text = text_, path = path_, file = autosave_path_.toStdString()] {
    const QJsonObject json{{"process", process_mark(::getpid())},
                           {"pid", static_cast<qint64>(::getpid())},
                           {"project", path},
                           {"when", QDateTime::currentDateTime().toString("yyyy-MM-dd HH:mm:ss")},
                           {"disk_text", QString::fromStdString(text)},
                           {"text", QString::fromStdString(project::project_text(project, text))}};
    try {
      write_file_atomically(file, QJsonDocument(json).toJson().toStdString());
    } catch (const std::exception& error) {
      QMetaObject::invokeMethod(
          this, [this, why = QString::fromUtf8(error.what())] { emit autosave_failed(why); },
          Qt::QueuedConnection);
    }
  });
}

void Document::drop_autosave() {
  autosave_timer_.stop();
  writer_.waitForDone();  // or it would come after it was dropped
  if (!autosave_path_.isEmpty()) QFile::remove(autosave_path_);
  autosave_path_.clear();
}

std::vector<Leftover> Document::leftovers() {
  std::vector<Leftover> out;
  // Halves of autosaves that were killed: nothing can be had from them.
  for (const QFileInfo& half : QDir(autosave_folder()).entryInfoList({"*.part-*"}, QDir::Files))
    if (half.lastModified().secsTo(QDateTime::currentDateTime()) > 60) QFile::remove(half.filePath());
  for (const QFileInfo& info : QDir(autosave_folder()).entryInfoList({"*.json"}, QDir::Files, QDir::Time)) {
    QFile file(info.filePath());
    if (!file.open(QIODevice::ReadOnly)) continue;
    const QJsonObject json = QJsonDocument::fromJson(file.readAll()).object();
    const auto pid = static_cast<pid_t>(json["pid"].toInteger());
    if (!json.contains("text") || pid <= 0) continue;
    // The number alone may meanwhile belong to another process.
    const QString now = process_mark(pid);
    if (now.isEmpty() || json["process"].toString() != now)
      out.push_back({info.filePath(), json["project"].toString(), json["when"].toString()});
  }
  return out;
}

void Document::discard(const Leftover& leftover) { QFile::remove(leftover.autosave); }

void Document::restore(const Leftover& leftover) {
  const std::string content = read_file(leftover.autosave.toStdString());
  const QJsonObject json = QJsonDocument::fromJson(QByteArray::fromStdString(content)).object();
  const std::string text = json["text"].toString().toStdString();
  // What the project names stands beside it, not beside the autosave.
  const std::filesystem::path file =
      leftover.project.isEmpty() ? leftover.autosave.toStdString() : leftover.project.toStdString();
  auto sources = std::make_shared<solve::Sources>(file.parent_path());
  auto [project, notes] = project::parse_project(text, file.string());
  for (Message& m : solve::check(project, file.string(), *sources)) notes.push_back(std::move(m));
  if (has_errors(notes)) throw InputError(std::move(notes));
  // What the work was begun on, not what stands there now: saving asks if somebody changed it meanwhile.
  std::string disk = json["disk_text"].toString().toStdString();
  adopt({.project = std::move(project), .file = {file, std::move(disk)}, .notes = std::move(notes)},
        leftover.project, std::move(sources));
  restored_ = true;
  write_autosave();
  writer_.waitForDone();
  if (QFile::exists(autosave_path_)) discard(leftover);  // else it is all that there is of the work
  emit file_changed();
}

}  // namespace uadze::gui
