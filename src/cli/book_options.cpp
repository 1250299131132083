#include "cli/book_options.h"

#include "core/base/names.h"
#include "core/logbook/record.h"

namespace uadze::cli {

CLI::App* add_book(CLI::App& app, BookOptions& o) {
  auto* book = app.add_subcommand("book", "The car's book: gates, proofs, service, incidents");
  book->require_subcommand(1);
  const auto command = [&](const char* name, const char* says) {
    auto* sub = book->add_subcommand(name, says);
    sub->add_option("FILE", o.file, "project, or a book by itself")->required();
    sub->callback([&o, name] { o.what = name; });
    return sub;
  };
  const auto setup = [&](CLI::App* sub) {
    sub->add_option("--setup", o.setup, "setup (default: the first)");
  };
  const auto output = [&](CLI::App* sub) {
    sub->add_option("-o,--output", o.output, "file to write (default: stdout)");
  };
  const auto format = [&](CLI::App* sub, std::vector<std::string> formats) {
    sub->add_option("--format", o.format, "text (default) or another")
        ->check(CLI::IsMember(std::move(formats)));
  };
  const auto written = [&](CLI::App* sub) {
    sub->add_option("--by", o.by, "who")->required();
    sub->add_option("--note", o.note, "anything else");
    sub->add_option("--photo", o.photos, "a picture, kept beside the book; may be given again");
    sub->add_option("--link", o.links, "a part, a log and its moment; may be given again");
  };

  auto* gates = command("gates", "What a setup has passed; exit 1 if it is not ready");
  setup(gates), output(gates), format(gates, {"text", "csv"});
  auto* readings =
      command("readings", "What a gate should read by this circuit, how it is done, its cautions");
  readings->add_option("GATE", o.gate, "as `uadze book gates` names it")->required();
  setup(readings), output(readings);
  auto* due = command("due", "What is due; exit 1 if anything is overdue");
  setup(due), output(due), format(due, {"text", "csv", "ics"});
  auto* list = command("list", "The records, or those that are found");
  list->add_option("WORDS", o.words, "all of these words, each by its beginning");
  list->add_option("--setup", o.setup, "of this setup only");
  list->add_option("--kind", o.kind, "of this kind only")->check(CLI::IsMember(names_of<logbook::Kind>()));
  output(list), format(list, {"text", "csv", "json"});
  auto* show = command("show", "One record with all it says, and what amended it");
  show->add_option("NUMBER", o.number, "of the record")->required();
  output(show);
  auto* handover = command("handover", "All that goes with a car: ready or not, proofs, due, incidents");
  setup(handover), output(handover);

  auto* add = command("add", "Writes a record that is no gate's test");
  setup(add), written(add);
  add->add_option("KIND", o.kind, "fitted, run, service, event, incident, step or note")
      ->required()
      ->check(CLI::IsMember({"fitted", "run", "service", "event", "incident", "step", "note"}));
  add->add_option("SUBJECT", o.subject, "the part, task or event");
  add->add_option("--hours", o.hours, "that it ran")->check(CLI::Range(0.0, 1e4));
  add->add_option("--session", o.session, "that it ran");
  add->add_option("--cause", o.cause, "of an incident");
  add->add_option("--done", o.done, "what was done");
  add->add_option("--torque", o.torque, "that was reached, with its unit");
  auto* begin = command("begin", "Begins a gate's test that runs for hours");
  begin->add_option("GATE", o.gate, "as `uadze book gates` names it")->required();
  setup(begin), written(begin);
  auto* test = command("test", "Writes a gate's test with its verdict; exit 1 if it has failed");
  test->add_option("GATE", o.gate, "as `uadze book gates` names it")->required();
  setup(test), written(test);
  test->add_option("--second", o.second, "who looked too");
  test->add_option("--instrument", o.instrument, "that was read");
  test->add_option("--checked-until", o.checked_until, "the day up to which its check is good");
  test->add_option("--way", o.way, "how, where there are several");
  test->add_option("--reading", o.readings, "\"what=value with unit\"; may be given again");
  test->add_option("--from", o.from,
                   "a table of readings as the bench writes it, or socket:NAME where one answers");
  test->add_option("--seen", o.seen, "looked at and good; may be given again");
  test->add_flag("--all-seen", o.all_seen, "all that is to be looked at is good");
  test->add_flag("--failed", o.failed, "it failed, whatever was read");
  auto* amend = command("amend", "Writes what takes the place of a record, which stays");
  amend->add_option("NUMBER", o.number, "of the record")->required();
  amend->add_option("--by", o.by, "who amends it")->required();
  amend->add_option("--note", o.note, "in place of its note");
  amend->add_option("--cause", o.cause, "in place of its cause");
  amend->add_option("--done", o.done, "in place of what was done");
  amend->add_flag("--withdraw", o.withdraw, "it should never have been");

  auto* verify = command("verify", "Proves that no record was changed; exit 1 if one was");
  output(verify);
  auto* backup = command("backup", "A whole copy, also while the book is written to");
  backup->add_option("-o,--output", o.output, "file to write")->required();
  auto* rescue = command("rescue", "Saves aside what can be read of a broken book");
  rescue->add_option("-o,--output", o.output, "the new book")->required();
  auto* import = command("import", "Adds records of a CSV or JSON file, as new ones that say where from");
  import->add_option("TABLE", o.from, "file")->required();
  import->add_option("--by", o.by, "who brings them in")->required();
  return book;
}

}  // namespace uadze::cli
