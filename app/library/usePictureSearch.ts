import { searchParams, type LibrarySearch } from "#core/library/librarySearch";
import { useHandIn } from "../view/useHandIn";

/** Hands a picture in, and searches for what looks like it, besides what is searched for already. @param page whose search it is */
export function usePictureSearch(search: LibrarySearch, page: string) {
  const { sending, trouble, handIn } = useHandIn(
    (likePicture) =>
      `${page}?${new URLSearchParams(searchParams({ ...search, like: undefined, likePicture }))}`,
  );
  return {
    sending,
    trouble,
    find: (picture: File) =>
      void handIn(picture.name, `/api/v1/sought-pictures?name=${encodeURIComponent(picture.name)}`, {
        headers: { "Content-Type": "application/octet-stream" },
        body: picture,
      }),
  };
}
