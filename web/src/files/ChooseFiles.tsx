import { Button, Upload } from 'antd';
import type { ReactNode } from 'react';

interface ChooseFilesProps {
  children: ReactNode;
  multiple?: boolean;
  onChoose(file: File): void;
}

/** A button to choose files of this machine. Results are shown elsewhere. */
export function ChooseFiles({ children, multiple = false, onChoose }: ChooseFilesProps) {
  return (
    <Upload
      multiple={multiple}
      showUploadList={false}
      beforeUpload={(file) => {
        onChoose(file);
        return false;
      }}
    >
      <Button>{children}</Button>
    </Upload>
  );
}
