import { Flex } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { useDropzone } from "react-dropzone";
import { importFiles } from "../store/importFiles";

/** Takes files dropped anywhere on what it holds. */
export function DropSheet({ children }: { children: ReactNode }) {
  const { getRootProps, isDragActive } = useDropzone({
    onDrop: (files) => void importFiles(files),
    noClick: true,
    noKeyboard: true,
  });
  return (
    <Flex
      {...getRootProps({ role: undefined, tabIndex: undefined })}
      direction="column"
      flex="1"
      minH="0"
    >
      {children}
      {isDragActive && (
        <Flex
          position="absolute"
          inset="0"
          zIndex="10"
          bg="rgb(30 30 30 / 70%)"
          color="#f4f4f4"
          align="center"
          justify="center"
          fontFamily="felt"
          fontStyle="italic"
          fontSize="26px"
          pointerEvents="none"
        >
          Let go to bring it in
        </Flex>
      )}
    </Flex>
  );
}
