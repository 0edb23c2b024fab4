/** The JPEG coder asks for Node's modules in a branch that a browser never takes. */
export default {};
