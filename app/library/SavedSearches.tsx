import { Dropdown } from "react-bootstrap";
import { Trash } from "react-bootstrap-icons";
import { Link, useFetcher, useSearchParams } from "react-router";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";

interface SavedSearchesProps {
  saved: readonly { id: string; name: string; params: string }[];
  mayMake: boolean;
}

/** Searches that the studio shares: to look at, to add the one that is shown, or to delete. */
export function SavedSearches({ saved, mayMake }: SavedSearchesProps) {
  const [params] = useSearchParams();
  const keep = useFetcher();
  const remove = useFetcher();
  const isAny = [...params.keys()].some((key) => key !== "page" && key !== "sort");
  if (saved.length === 0 && !mayMake) return null;
  return (
    <Dropdown align="end">
      <Dropdown.Toggle size="sm" variant="outline-secondary">
        Saved searches
      </Dropdown.Toggle>
      <Dropdown.Menu className="saved-searches">
        {saved.map(({ id, name, params: kept }) => (
          <div key={id} className="saved-search">
            <Dropdown.Item as={Link} to={`/library?${kept}`}>
              {name}
            </Dropdown.Item>
            {mayMake && (
              <remove.Form
                method="post"
                action="/library"
                onSubmit={(event) => {
                  if (!confirm(`Delete the search “${name}” for the whole studio? What it finds stays.`))
                    event.preventDefault();
                }}
              >
                <input type="hidden" name="intent" value="delete-search" />
                <input type="hidden" name="search" value={id} />
                <Button size="sm" variant="link" type="submit" aria-label={`Delete the search “${name}”`}>
                  <Trash aria-hidden />
                </Button>
              </remove.Form>
            )}
          </div>
        ))}
        <Refusal result={remove.data} />
        {saved.length > 0 && <Dropdown.Divider />}
        {mayMake &&
          (isAny ? (
            // Empty again once it is among them.
            <keep.Form key={saved.length} method="post" action="/library" className="menu-form">
              <input type="hidden" name="intent" value="save-search" />
              <input type="hidden" name="params" value={params.toString()} />
              <input
                name="name"
                required
                maxLength={200}
                placeholder="a name"
                aria-label="Name of this search"
              />
              <Button size="sm" type="submit">
                Save
              </Button>
              <Button
                size="sm"
                type="submit"
                name="fills"
                value="on"
                variant="outline-secondary"
                title="A collection that has all that this search finds, also later"
              >
                Save as a collection
              </Button>
              <Refusal result={keep.data} />
            </keep.Form>
          ) : (
            <p className="menu-form dim">Say in the sentence what is to be shown, and save it here.</p>
          ))}
      </Dropdown.Menu>
    </Dropdown>
  );
}
