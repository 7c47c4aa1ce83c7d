import { chakra } from "@chakra-ui/react";
import { type ComponentProps, useEffect, useRef, useState } from "react";
import { takeTurn } from "../../store/imageTurns";

const Image = chakra("img");

/** How far beyond what is seen pictures are wanted, in CSS pixels. */
const BEYOND = "0px 100px";

/** A small picture of many: asked for once it is in view and its turn has come; the one before stays. */
export function ImageInTurn({ src, ...rest }: ComponentProps<typeof Image> & { src: string }) {
  const image = useRef<HTMLImageElement>(null);
  const [shown, setShown] = useState<string>();
  const done = useRef(() => {});
  useEffect(() => {
    const node = image.current;
    if (!node) return;
    const inView = new IntersectionObserver(
      ([entry]) => {
        done.current();
        if (!entry?.isIntersecting || node.getAttribute("src") === src) return;
        done.current = takeTurn(() => {
          inView.disconnect();
          setShown(src);
        });
      },
      { rootMargin: BEYOND },
    );
    inView.observe(node);
    return () => {
      inView.disconnect();
      done.current();
    };
  }, [src]);
  return (
    <Image
      ref={image}
      src={shown}
      visibility={shown ? undefined : "hidden"}
      onLoad={() => done.current()}
      onError={() => done.current()}
      {...rest}
    />
  );
}
