"""Projects do not know of each other: two are open in one process, and in two threads."""

from concurrent.futures import ThreadPoolExecutor

from tests.conftest import a_look, step
from yearning.store.project import Project


def _fill_project(folder, names):
    """A project with a look for each name, made one after the other."""
    project = Project(folder)
    for name in names:
        made = project.looks.new(a_look())
        project.looks.change(made.id, made.revision, a_look().model_copy(update={"name": name}))
    project.set_setting("farm", {"workers": len(names)})
    return project


def _names(project):
    return {current.look.name for current in project.looks.all()}


def test_two_projects_in_one_process_keep_apart(tmp_path):
    first, second = (
        _fill_project(tmp_path / "a", ["one", "two"]),
        _fill_project(tmp_path / "b", ["three"]),
    )
    first.looks.new(a_look(step("glow")))
    assert _names(second) == {"three"}
    assert _names(first) == {"one", "two", "Test"}
    assert (first.setting("farm"), second.setting("farm")) == ({"workers": 2}, {"workers": 1})


def test_two_projects_in_two_threads_keep_apart(tmp_path):
    wanted = [[f"{place}{n}" for n in range(12)] for place in "ab"]
    with ThreadPoolExecutor(2) as pool:
        made = pool.map(_fill_project, [tmp_path / "a", tmp_path / "b"], wanted)
    assert [_names(project) for project in made] == [set(names) for names in wanted]


def test_one_project_is_used_from_two_threads(tmp_path):
    project = Project(tmp_path / "a")
    with ThreadPoolExecutor(2) as pool:
        made = list(pool.map(lambda _: project.looks.new(a_look()).id, range(24)))
    assert sorted(made) == [
        current.id for current in sorted(project.looks.all(), key=lambda c: c.id)
    ]
