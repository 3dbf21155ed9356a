import type { ComponentType } from "react";
import { Button as BootstrapButton, type ButtonProps } from "react-bootstrap";

/** React-Bootstrap's button without its open-ended element type, which TypeScript cannot resolve beside the 3D view's elements. */
export const Button = BootstrapButton as ComponentType<ButtonProps>;
